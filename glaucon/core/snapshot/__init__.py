"""Pages as a visitor has them, once their own scripts have run."""
