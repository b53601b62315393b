"""Moving house: before the day, and after it."""
