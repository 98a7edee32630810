"""The launcher's subcommands.

``launcher``, ``machine``, ``environment``, ``database``, ``serving`` and ``checks`` run on a bare Python with
nothing installed; ``analyse`` runs in the virtual environment that they make.
"""
