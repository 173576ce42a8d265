"""More of the scene: grounds that continue a photo, and what is painted over on it."""
