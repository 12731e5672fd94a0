"""What tilts a cam: a yoke leg, and a cam shifted along its axle; what bow/lean.py computes.

    python docs/derivations/lean.py

A yoke hangs on an axle with its legs at -a and +a. Its junction is below the axle, held to the bow's
middle by the cable guard at a distance G further down; a leg is v long. A leg that is shorter by d
and an axle that tilts by g (left end down) move the junction; the legs' pulls then differ.
"""

import sympy as sp

D, G_TILT, HALF, LEG, GUARD, PULL, STIFF = sp.symbols("d g a v G T K", positive=True)
SHIFT, LENGTH = sp.symbols("s L", positive=True)


def tilt_of_a_leg() -> sp.Expr:
    """Tilt of the axle when one leg is shorter by d, small angles.

    The legs end at (-a, 0) and (+a, 0), the axle's ends move by a g down and up. With one leg d
    shorter the junction moves sideways by x: the difference of the legs' lengths is 2 a (x / v) to
    first order, so x = v (d - 2 a g) / (2 a). The cable pulls at the junction toward the guard's
    line with T x / G sideways, and at the axle with a moment T x (1 + v / G), against which limb and
    axle turn: K g.
    """
    sideways = LEG * (D - 2 * HALF * G_TILT) / (2 * HALF)
    moment = PULL * sideways * (1 + LEG / GUARD)
    return sp.simplify(sp.solve(sp.Eq(STIFF * G_TILT, moment), G_TILT)[0])


def tilt_in_the_code() -> sp.Expr:
    """The same as `degrees_per_leg_step` has it, in radians."""
    lever = LEG * (1 + LEG / GUARD)
    return PULL * lever / (STIFF + PULL * lever) * D / (2 * HALF)


def tilt_of_a_shift() -> sp.Expr:
    """Tilt of the axle when the cam sits s beside the limb's middle: the pull has the arm s."""
    return sp.solve(sp.Eq(STIFF * G_TILT, PULL * SHIFT), G_TILT)[0]


def shaft_end() -> sp.Expr:
    """How far the end of a laid shaft is off to the right when the left end of the axle is down by g.

    The axle points along (cos g, sin g) from left to right; the shaft at right angles to it, down.
    """
    axle = sp.Matrix([sp.cos(G_TILT), sp.sin(G_TILT)])
    shaft = sp.Matrix([sp.sin(G_TILT), -sp.cos(G_TILT)])
    assert sp.simplify(axle.dot(shaft)) == 0
    return sp.simplify(LENGTH * shaft[0] / -shaft[1])


if __name__ == "__main__":
    print("leg:  g =", tilt_of_a_leg())
    print("shift: g =", tilt_of_a_shift())
    print("shaft's end: +", shaft_end())
