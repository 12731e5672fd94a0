"""Writes the schemas and examples of docs/formats from the core itself, so that they cannot go stale.

python docs/formats/make.py            write every schema, and every example's answer
python docs/formats/make.py --check    exit 1 if one would change
"""

import io
import json
import sys
from pathlib import Path

HERE = Path(__file__).resolve().parent
sys.path.insert(0, str(HERE.parents[1] / "src"))

from bowcore.io.cli import main  # noqa: E402
from bowcore.io.schemas import schema_files  # noqa: E402

BOOK = {
    "name": "An invented hybrid bow", "family": "hybrid", "axle_to_axle_in": 33,
    "brace_height_in": 6.5, "draw_length_in": 29, "peak_weight_lbf": 60, "let_off": 0.8,
    "peg_radius_in": 1.5, "yokes": ["cable_b"],
    "parts": [
        {"role": "cable_a", "label": "Control cable", "ends": "top cam to bottom cam",
         "length_in": 36, "strands": 24, "twists_per_in": 0.6},
        {"role": "cable_b", "label": "Buss cable", "ends": "bottom cam to the yoke on the top axle",
         "length_in": 36, "strands": 24, "twists_per_in": 0.6},
        {"role": "string", "label": "String", "ends": "cam to cam", "length_in": 58, "strands": 24,
         "twists_per_in": 0.4},
    ],
}  # fmt: skip
READ = [
    {"kind": "read", "quantity": "axle_to_axle", "value": 33.0625},
    {"kind": "read", "quantity": "brace_height", "value": 6.5},
    {"kind": "read", "quantity": "peak_weight", "takes": [59.1, 59.4, 59.2]},
    {"kind": "read", "quantity": "holding_weight", "value": 12.1},
]
HISTORY = [
    {"kind": "replaced", "part": "cable_a"},
    *READ,
    {"kind": "read", "quantity": "stop_gap", "value": -0.109375},
    {"kind": "turned", "steps": {"cable_a": 2}},
    *READ,
    {"kind": "read", "quantity": "stop_gap", "value": -0.046875},
]
QUESTION = {
    "readings": {"stop_gap": [-0.06, 0.006], "peak_weight": [59.6, 0.35]},
    "bands": {
        "stop_gap": {"low": -0.03125, "high": 0.03125, "target": 0, "source": "policy",
                     "because": "both stops together, within 1/32 in"},
        "peak_weight": {"low": 59, "high": 61, "target": 60, "source": "customer",
                        "because": "the customer's figure"},
    },
    "spent": {"cable_a": 1}, "suspects": ["cable_a"],
    "policy": {"half_twists": True, "shorten_only": False, "keep_length": False, "leave": [],
               "top_first_in": 0},
    "limit": 8, "limits": {}, "takes": {"stop_gap": 1, "peak_weight": 3}, "process_share": 0.1,
    "unconfirmed": {}, "modules": [], "first_stop_effect": {},
    "quantities": ["peak_weight", "stop_gap"],
    "adjusters": [
        {"kind": "string_or_cable", "key": "cable_a", "label": "Top take-up cable",
         "part": "cable_a", "length_step_in": 0.0157},
        {"kind": "string_or_cable", "key": "cable_b", "label": "Bottom take-up cable",
         "part": "cable_b", "length_step_in": 0.0157},
        {"kind": "spacer", "key": "cable_a.spacer", "label": "Top take-up cable, spacer",
         "part": "cable_a", "length_step_in": 0.0001, "doubt": 0.3,
         "positions": [{"total": 0, "words": "no spacer", "effort": 1},
                       {"total": 39, "words": "one 1/8 in spacer", "effort": 1}]},
    ],
    "response": [[0.15, 0.15, 0.001], [0.0194, -0.0194, 0.000124]],
    "response_sigma": [[0.03, 0.03, 0.0003], [0.002, 0.002, 0.00004]],
    "rests_on": "the book", "blocks": None,
}  # fmt: skip
CASES = {
    "twin": {"book": BOOK},
    "curve": {"book": BOOK, "points": 20},
    "response": {"book": BOOK},
    "plan": {"book": BOOK, "events": HISTORY, "policy": {"half_twists": True},
             "limb_bolts": {"turns_out": 2, "most_turns_out": 6}},
    "advice": QUESTION,
    "learn": {"book": BOOK, "events": HISTORY},
    "timing": {"book": BOOK, "at_rest": {"method": "marks", "difference_in": 0.02,
                                         "bolts_bottomed": True}},
    "lean": {"book": BOOK, "off_in": [0.5, 0.375], "over_in": 24},
    "readings": {"quantity": "peak_weight", "takes": [54.1, 53.9, 61.0],
                 "band": {"low": 53, "high": 55}, "before": {"takes": [54.0, 54.2]}},
    "virtual": {"book": BOOK, "seed": 7, "faults": {"shorter": {"cable_a": 0.05}},
                "acts": [{"read": "stop_gap"}, {"turn": {"cable_a": -2}}, {"read": "stop_gap", "takes": 3}]},
    "entry": {"quantity": "axle_to_axle", "text": "33 1/16+"},
    "fit": {"book": BOOK},
    "peep": {"book": BOOK, "nock_to_peep_in": 5.25, "turn_deg": 75, "lay": "z"},
    "rest": {"book": BOOK, "driver": "cable_b", "twisted_since": {"cable_b": 2}},
    "sight": {"speed_fps": 288, "now_fps": 284, "peep_to_pin_in": 30, "distances_yd": [20, 40, 60]},
    "tear": {"point": [0, 0], "nock": [-0.25, 0.375], "words": "tail"},
    "groups": {"shots": [{"x_in": 0.0, "y_in": 0.5}, {"x_in": 0.05, "y_in": 0.45}], "change_in": 0.25},
    "speed": {"strings": [{"speeds_fps": [282, 283, 282], "mass_gr": 412},
                          {"speeds_fps": [262, 261, 262], "mass_gr": 487}], "predict_gr": [450]},
    "arrow": {"draw_length_in": 29, "shaft_gr_per_in": 8.6, "point_gr": 125, "insert_gr": 20, "nock_gr": 9,
              "fletching_gr": 18, "peak_lbf": 60},
    "line": {"shots": [{"distance_yd": 20, "x_in": 0.5}, {"distance_yd": 30, "x_in": 1.1},
                       {"distance_yd": 40, "x_in": 1.4}]},
    "next": {"shots": [{"x_in": 0.0, "y_in": 0.5}, {"x_in": 0.05, "y_in": 0.45}],
             "evidence": [{"suspect": "timing", "found": False}]},
    "bundle": {"length_in": 36, "strands": 24, "twists": 21.6},
}  # fmt: skip


def answer(verb: str) -> dict[str, object]:
    out = io.StringIO()
    main([verb], io.StringIO(json.dumps(CASES[verb])), out)
    found: dict[str, object] = json.loads(out.getvalue())
    return found


def example(verb: str) -> str:
    return json.dumps({"case": CASES[verb], "answer": rounded(answer(verb))}, indent=1,
                      ensure_ascii=False) + "\n"  # fmt: skip


def rounded(value: object) -> object:
    """Four significant places are plenty for an example, and alike on every machine."""
    if isinstance(value, float):
        return float(f"{value:.4g}")
    if isinstance(value, dict):
        shown = {k: v for k, v in value.items() if k not in ("twin", "tracks")}
        return {k: rounded(v) for k, v in shown.items()}
    if isinstance(value, list):
        return [rounded(v) for v in value]
    return value


def files() -> dict[str, str]:
    """Every file that is made here, by name."""
    schemas = {
        name: json.dumps(schema, indent=1, ensure_ascii=False) + "\n"
        for name, schema in schema_files().items()
    }
    return schemas | {f"{verb}.example.json": example(verb) for verb in CASES}


if __name__ == "__main__":
    for name, text in files().items():
        path = HERE / name
        if "--check" in sys.argv and (not path.exists() or path.read_text() != text):
            sys.exit(f"{name} is not what the core makes now")
        path.write_text(text)
