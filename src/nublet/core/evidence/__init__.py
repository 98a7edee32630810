"""From readings to what can be told apart, and how sure one may be."""
