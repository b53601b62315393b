"""Places: where cuttings stand, how warm it is there, what was read there, the room left."""
