"""Sheets to print at true size: pages drawn in millimetres, written as PDF or SVG. None names a build-up."""
