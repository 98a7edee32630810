"""The web door: Django over the core. Arrows point to the core, never back."""
