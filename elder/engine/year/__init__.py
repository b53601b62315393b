"""What runs over a year and more: lines multiplied in generations, winters, the crops that stand for years."""
