"""Lines of a photo drawn on beyond its edge: bundles of them, from the photo's own pixels along them."""
