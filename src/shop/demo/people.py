"""Invented people, models and bows of the demo shop. None of them exists."""

MEMBERS = [
    ("ines", "Ines", "Marlow", "manager"),
    ("tomas", "Tomas", "Reckert", "technician"),
    ("ode", "Ode", "Fairlamb", "technician"),
    ("pia", "Pia", "Sandoval", "apprentice"),
]
PASSWORD = "saltgate-bench"  # noqa: S105  published in the README

ENTRIES = [
    {
        "maker": "Tidewell", "model": "Lark 31", "family": "binary", "guided": True,
        "axle_to_axle_in": "31.25", "brace_height_in": "6.625", "draw_from_in": "26",
        "draw_to_in": "30.5", "weight_from_lbf": "40", "weight_to_lbf": "70", "let_off": "0.8",
        "peg_radius_in": "1.46", "take_up_radius_in": "0.64", "let_out_radius_in": "0.53",
        "bolt_turns_max": "8", "note": "Cams slaved to each other; no yokes, lean by shims.",
    },
    {
        "maker": "Corvane", "model": "Pilot 33", "family": "hybrid", "guided": True,
        "axle_to_axle_in": "33.125", "brace_height_in": "6.875", "draw_from_in": "26",
        "draw_to_in": "30.5", "weight_from_lbf": "40", "weight_to_lbf": "70", "let_off": "0.78",
        "bolt_turns_max": "7", "note": "Split yoke at the top cam.",
    },
    {
        "maker": "Osmer", "model": "Quill 34", "family": "twin", "guided": False,
        "axle_to_axle_in": "34.375", "brace_height_in": "7", "draw_from_in": "26",
        "draw_to_in": "30", "weight_from_lbf": "40", "weight_to_lbf": "60", "let_off": "0.65",
        "bolt_turns_max": "6",
        "note": "Yokes top and bottom. Half a twist moves its stops far: it needs spacers.",
    },
    {
        "maker": "Brackenholt", "model": "Sarn 35", "family": "single", "guided": False,
        "axle_to_axle_in": "35.5", "brace_height_in": "7.125", "draw_from_in": "25",
        "draw_to_in": "30", "weight_from_lbf": "40", "weight_to_lbf": "60", "let_off": "0.75",
        "bolt_turns_max": "6", "note": "Idler on top, split yoke at the idler.",
    },
]  # fmt: skip

PARTS = {
    "Lark 31": [
        ("cable_a", "Top take-up cable", "top cam's take-up track to bottom cam's let-out track",
         "34.875", 24, "0.6"),
        ("cable_b", "Bottom take-up cable", "bottom cam's take-up track to top cam's let-out track",
         "34.875", 24, "0.6"),
        ("string", "String", "string track to string track", "56.25", 24, "0.4"),
    ],
    "Pilot 33": [
        ("cable_a", "Control cable", "top cam's take-up track to bottom cam's let-out track",
         "36.125", 24, "0.6"),
        ("cable_b", "Buss cable", "bottom cam's take-up track to the yoke at the top axle",
         "34.5", 24, "0.6"),
        ("string", "String", "string track to string track", "58.75", 24, "0.4"),
    ],
    "Quill 34": [
        ("cable_a", "Top cam's cable", "top cam's take-up track to the yoke at the bottom axle",
         "36.5", 28, "0.5"),
        ("cable_b", "Bottom cam's cable", "bottom cam's take-up track to the yoke at the top axle",
         "36.5", 28, "0.5"),
        ("string", "String", "string track to string track", "60.5", 24, "0.4"),
    ],
    "Sarn 35": [
        ("string", "String", "bottom cam, round the idler, back to the bottom cam", "98.5", 24, "0.4"),
        ("cable_b", "Buss cable", "bottom cam's take-up track to the yoke at the top axle",
         "39.25", 24, "0.6"),
    ],
}  # fmt: skip

CUSTOMERS = [
    ("R. Okafor", "0555 014 201"), ("J. Verhoeven", "0555 014 202"), ("M. Achterberg", "0555 014 203"),
    ("L. Quist", "0555 014 204"), ("T. Iwasaki", "0555 014 205"), ("D. Pell", "0555 014 206"),
    ("A. Brandvold", "0555 014 207"), ("Saltgate School", "0555 014 208"), ("N. Ferreira", "0555 014 209"),
    ("K. Oyelaran", "0555 014 210"), ("S. Lindqvist", "0555 014 211"), ("B. Castellan", "0555 014 212"),
]  # fmt: skip
