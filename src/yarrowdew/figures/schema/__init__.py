"""What a document may hold, told to the front end and to readers of the format."""
