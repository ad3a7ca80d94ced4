"""Thin views: they fetch, call an action, and show."""
