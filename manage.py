#!/usr/bin/env python3
"""Django's own commands; the launcher (./nublet) sets the environment that they need."""

import os
import sys
from pathlib import Path

if __name__ == "__main__":
    sys.path.insert(0, str(Path(__file__).parent / "src"))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "nublet.web.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
