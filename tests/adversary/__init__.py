"""Tables, documents, files and orders of actions that are made to break what they meet."""
