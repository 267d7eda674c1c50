"""Pictures of figures without a browser: the front end's own drawing, run in an engine here."""
