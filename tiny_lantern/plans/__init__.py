"""Searches whose outcome is an edit."""
