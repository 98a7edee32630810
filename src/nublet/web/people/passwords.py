"""What a password may not be, beside what the framework refuses."""

from __future__ import annotations

from django.core.exceptions import ValidationError

FEWEST_DIFFERENT = 4


class NotBlankValidator:
    """Refuses blanks alone, and a few signs over and over."""

    def validate(self, password: str, user: object = None) -> None:
        """Raise ``ValidationError`` with what to do, whoever ``user`` is."""
        del user
        if not password.strip():
            raise ValidationError("A password of blanks alone is none. Take letters, digits or words.")
        if len(set(password)) < FEWEST_DIFFERENT:
            raise ValidationError("A few signs over and over are guessed at once. Take more different ones.")

    def get_help_text(self) -> str:
        """What is asked for, in words."""
        return "Not blanks alone, and not a few signs over and over."
