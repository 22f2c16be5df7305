"""Heavy work, done in processes of its own, each within limits."""
