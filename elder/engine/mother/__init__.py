"""What a mother gives, what is asked of it, who came from whom."""
