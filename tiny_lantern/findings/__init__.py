"""Judgements on a build: rules, one file a subject, and the evidence they read."""
