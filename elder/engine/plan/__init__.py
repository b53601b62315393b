"""When to cut and how many: wants, planting windows, wood, the search over cut days."""
