"""The length of a rope's piece and its second derivatives, derived; what machine.py computes.

    python docs/derivations/ropes.py

A piece leaves a convex track with support function h along the tangent whose normal is at psi and
runs straight to the nock. Its length is s [H(phi) + (Q - C).t(psi)] with phi = psi - alpha, H the
integral of h, C the axle, Q the nock. Three facts are shown:

1. The length is stationary in psi exactly where the line touches the track: h(phi) = (Q - C).n(psi).
2. The gradient needs no derivative of psi: it is the partial derivative at constant psi.
3. The Hessian is l_uu - l_upsi l_psiu / l_psipsi (implicit function theorem).
"""

import sympy as sp

THETA, ALPHA, XN, YN, PSI = sp.symbols("theta alpha x_n y_n psi", real=True)
PIVOT_X, PIVOT_Y, RADIUS = sp.symbols("p_x p_y R", positive=True)
R0, C1, S1, C2, S2 = sp.symbols("r_0 c_1 s_1 c_2 s_2", real=True)
SIDE, MIRROR, SIGN = sp.symbols("u m s", real=True)
"""SIDE is +1 for the top limb, -1 for the bottom one; MIRROR flips the top cam's frame."""
UNKNOWNS = (THETA, ALPHA, XN, YN)


def support(phi: sp.Expr) -> sp.Expr:
    """h of a track with two harmonics."""
    first = C1 * sp.cos(phi) + S1 * sp.sin(phi)
    return R0 + first + C2 * sp.cos(2 * phi) + S2 * sp.sin(2 * phi)


def integral(phi: sp.Expr) -> sp.Expr:
    """H, the integral of h; its constant cancels in every length."""
    first = C1 * sp.sin(phi) - S1 * sp.cos(phi)
    return R0 * phi + first + (C2 * sp.sin(2 * phi) - S2 * sp.cos(2 * phi)) / 2


def length() -> sp.Expr:
    """Length of a piece from a track to the nock, as it depends on psi."""
    axle = sp.Matrix([PIVOT_X + RADIUS * sp.sin(THETA), SIDE * (PIVOT_Y + RADIUS * sp.cos(THETA))])
    along = sp.Matrix([-sp.sin(PSI), MIRROR * sp.cos(PSI)])
    span = sp.Matrix([XN, YN]) - axle
    return SIGN * (integral(PSI - ALPHA) + span.dot(along))


def touching() -> sp.Expr:
    """h(phi) - (Q - C).n(psi): zero where the line touches the track."""
    axle = sp.Matrix([PIVOT_X + RADIUS * sp.sin(THETA), SIDE * (PIVOT_Y + RADIUS * sp.cos(THETA))])
    normal = sp.Matrix([sp.cos(PSI), MIRROR * sp.sin(PSI)])
    return support(PSI - ALPHA) - (sp.Matrix([XN, YN]) - axle).dot(normal)


def gradient() -> sp.Matrix:
    """First derivatives at constant psi."""
    return sp.Matrix([sp.diff(length(), unknown) for unknown in UNKNOWNS])


def hessian() -> sp.Matrix:
    """Second derivatives with psi eliminated."""
    whole = length()
    l_uu = sp.hessian(whole, UNKNOWNS)
    l_upsi = sp.Matrix([sp.diff(whole, unknown, PSI) for unknown in UNKNOWNS])
    return l_uu - l_upsi * l_upsi.T / sp.diff(whole, PSI, 2)


def stationary_where_it_touches() -> bool:
    """Fact 1."""
    return sp.simplify(sp.diff(length(), PSI) - SIGN * touching()) == 0


if __name__ == "__main__":
    print("dl/dpsi = s (h - (Q - C).n):", stationary_where_it_touches())
    print("gradient at constant psi:")
    sp.pprint(gradient())
