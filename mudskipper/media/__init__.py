"""What comes from outside: pictures by their content, within limits."""
