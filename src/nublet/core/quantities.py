"""Quantities that are shown and typed, each with the metric unit in which it is kept."""

from __future__ import annotations

from typing import Literal

Quantity = Literal[
    "number", "count", "percent", "grams", "millilitres", "litres", "square_metres", "millimetres", "micrometres",
    "celsius", "spread_m2_per_l", "g_per_l", "g_per_m2", "g_per_ml", "kg_per_m3", "newtons", "price", "price_per_l",
    "price_per_m2", "minutes", "hours", "days",
]  # fmt: skip

METRIC_SIGNS: dict[Quantity, str] = {
    "number": "",
    "count": "",
    "percent": "%",
    "grams": "g",
    "millilitres": "mL",
    "litres": "L",
    "square_metres": "m²",
    "millimetres": "mm",
    "micrometres": "µm",
    "celsius": "°C",
    "spread_m2_per_l": "m²/L",
    "g_per_l": "g/L",
    "g_per_m2": "g/m²",
    "g_per_ml": "g/mL",
    "kg_per_m3": "kg/m³",
    "newtons": "N",
    "price": "",
    "price_per_l": "/L",
    "price_per_m2": "/m²",
    "minutes": "min",
    "hours": "h",
    "days": "d",
}
