"""Designs: boards, panels and spots by lot, their record, their sheets, and what deviated."""
