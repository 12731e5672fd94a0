"""The gap of a binary bow per inch of cable, and a limb bolt's lever; derived.

    python docs/derivations/closed_form.py

Each cam turns by alpha (top) and beta (bottom) past the point where it touches its stop. Cable A is
taken up by the top cam on radius t and let out by the bottom cam on radius o; cable B is its mirror.
At the stops, with the limbs where they are, both cables keep their lengths.
"""

import sympy as sp

ALPHA, BETA, D_A, D_B = sp.symbols("alpha beta d_A d_B", real=True)
TAKE_UP, LET_OUT, PEG = sp.symbols("t o p", positive=True)
PITCH, LEVER = sp.symbols("h b", positive=True)


def gap_per_inch() -> sp.Expr:
    """Change of the stop gap per inch that cable A becomes shorter.

    Cable A: the span between the tracks shortens by what the top cam takes up and lengthens by what
    the bottom cam lets out, t alpha - o beta; a cable shorter by d_A holds the top cam back:
    t alpha - o beta = -d_A. Cable B: t beta - o alpha = -d_B. The limbs take up the common part; the
    difference alpha - beta is the cams' own. The gap is the top stop's way less the bottom stop's,
    p (beta - alpha).
    """
    difference = sp.Symbol("delta")
    # subtract the two equations: (t + o)(alpha - beta) = d_B - d_A
    solved = sp.solve(sp.Eq((TAKE_UP + LET_OUT) * difference, D_B - D_A), difference)[0]
    return sp.simplify(sp.diff(-PEG * solved, D_A))


def difference_of_equations() -> bool:
    """That the difference of the two cables' equations holds only the cams' difference."""
    cable_a = TAKE_UP * ALPHA - LET_OUT * BETA + D_A
    cable_b = TAKE_UP * BETA - LET_OUT * ALPHA + D_B
    left = sp.expand(cable_a - cable_b)
    return sp.simplify(left - ((TAKE_UP + LET_OUT) * (ALPHA - BETA) + D_A - D_B)) == 0


def bolt_radians_per_turn() -> sp.Expr:
    """A bolt of pitch h at a distance b from the limb's support turns the limb's root by h / b."""
    return PITCH / LEVER


if __name__ == "__main__":
    print("gap per inch of cable A:", gap_per_inch())
    print("radians per bolt turn:", bolt_radians_per_turn())
