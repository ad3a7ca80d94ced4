"""Shapes of the severities, so that colour is never alone."""

SHAPES = {
    "stop": '<path class="solid" d="M5 1h6l4 4v6l-4 4H5l-4-4V5z"/><path class="cut" d="M4 8h8"/>',
    "fix": (
        '<path class="outline" d="M8 1.5l6.5 6.5L8 14.5 1.5 8z"/><path class="outline" d="M8 5v4M8'
        ' 10.6v.8"/>'
    ),
    "check": '<circle class="outline dashed" cx="8" cy="8" r="6.2"/>',
    "open": '<circle class="outline dashed" cx="8" cy="8" r="6.2"/>',
    "note": '<path class="outline" d="M2.5 3.5h11M2.5 8h11M2.5 12.5h7"/>',
    "sound": '<path class="outline" d="M2 8.5l4 4.5 8-10"/>',
}


def severity_icon(severity: str) -> str:
    """An inline drawing 16 by 16 of a severity."""
    return (
        f'<svg class="sev {severity}" viewBox="0 0 16 16" width="16" height="16"'
        f' aria-hidden="true">{SHAPES[severity]}</svg>'
    )
