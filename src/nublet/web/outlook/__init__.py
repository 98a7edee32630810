"""What a design can show before it is carried out. It has no tables of its own."""
