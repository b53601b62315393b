"""Finding: one box for everything a garden holds, and for what its words mean."""
