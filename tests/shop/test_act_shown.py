"""One act is shown in one way: nothing of the page round it gets in between."""

import re
from math import pi

import pytest
from django.template.loader import render_to_string

from bowcore.deciding.act import Act
from bowcore.stages.stabiliser.bars import Bars
from shop.drawings.bars_from_above import bars_from_above

ACT = Act("Move it.", "It is off.", sure="by geometry", others=("Leave it.",), caution="Mind it.")


def shown(act, **around):
    page = {"rows": "a drawing", "then": "Nothing.", "expected": "Nothing."} | around
    return render_to_string("ui/act.html", page | {"act": act, "over": "Next"})


def test_an_act_says_what_why_how_sure_and_what_else():
    text = shown(ACT)
    for words in ("Move it.", "It is off.", "How sure: by geometry.", "Also possible: Leave it."):
        assert words in text
    assert 'class="warn' in text and 'class="prediction"' not in text
    assert 'class="stop' in shown(Act("Do not.", caution="Too short.", stop=True))


def test_what_is_not_known_leaves_no_empty_line():
    text = render_to_string("ui/act.html", {"act": Act("Shoot."), "over": "Next"})
    assert "How sure" not in text and "Also possible" not in text and "<p></p>" not in text


@pytest.mark.parametrize("back_deg", [0, 30])
def test_the_bars_balance_where_their_moments_say(back_deg):
    """By the lever's law (textbook mechanics): discs' places and areas give the point of balance."""
    bars = Bars(12.0, 4.0, 8.0, 9.0, back_deg)
    drawn = str(bars_from_above(bars))
    discs = [
        tuple(float(one) for one in found)
        for found in re.findall(r'<circle cx="([\d.]+)" cy="([\d.]+)" r="([\d.]+)"', drawn)
    ]
    area = [pi * r**2 for *_, r in discs]
    x = sum(cx * a for (cx, _, _), a in zip(discs, area, strict=True)) / sum(area)
    y = sum(cy * a for (_, cy, _), a in zip(discs, area, strict=True)) / sum(area)
    tip_x, tip_y = (float(one) for one in re.search(r'd="M([\d.]+),([\d.]+)', drawn).groups())
    assert tip_x == pytest.approx(x, abs=0.2) and tip_y - 5 == pytest.approx(y, abs=0.2)
