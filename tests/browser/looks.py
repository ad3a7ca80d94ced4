"""What is looked at in each look: everything in the light, in the dark what colours can spoil."""

LOOKED_AT = {"light": {}, "dark": {"runOnly": ["color-contrast"]}}
