"""What all doors of the web share: errors, sign-in, permissions, the OpenAPI document."""
