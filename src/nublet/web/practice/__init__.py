"""Practice: reading marks that were drawn, to learn how well one reads."""
