"""Engine results made into scenes: shapes with text-ready numbers. No Django and no markup.

Across, a scene is fluid: marks stand at percentages of its width and keep their shape, while areas
live in a layer 1000 wide that stretches. Down, everything is in pixels.
"""
