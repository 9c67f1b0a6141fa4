"""What a build is: frozen models, edits, the file store and its migrations."""
