"""What stands where, and how to fit everything in."""
