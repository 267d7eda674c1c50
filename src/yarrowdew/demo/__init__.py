"""The made-up scenario that every example, picture and test of the interface uses."""
