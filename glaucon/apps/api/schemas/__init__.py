"""What the API takes and gives, as documents."""
