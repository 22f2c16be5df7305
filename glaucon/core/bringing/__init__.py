"""What a site is brought in as besides a folder: pages as a browser saved them, and archives of what a crawl met."""
