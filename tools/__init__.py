"""What the makers of the program use, and no user needs."""
