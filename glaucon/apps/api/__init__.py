"""The HTTP API: what the applications do, as addresses. It stands above them all."""
