"""How far a job is, on the same kind of scale as everything else."""

from django.utils.safestring import SafeString

from shop.drawings.svg import element, line, picture

WIDTH, HEIGHT, AXIS = 240, 30, 24


def progress_scale(done: int, steps: int, held: bool) -> SafeString:
    """A scale of the job's steps with an arrow at the present one."""
    pitch = (WIDTH - 16) / steps
    here = 8 + pitch * done
    parts = [line(8, AXIS, WIDTH - 8, AXIS, "axis")]
    parts += [
        line(8 + pitch * n, AXIS - (9 if n % steps else 12), 8 + pitch * n, AXIS, "tick")
        for n in range(steps + 1)
    ]
    head = f"{here - 8:.1f},6 {here + 8:.1f},6 {here:.1f},{AXIS - 2}"
    parts += [
        line(8, AXIS, here, AXIS, "passed"),
        element("polygon", points=head, class_="here held" if held else "here"),
    ]
    label = f"{done} of {steps} steps done" + (", held" if held else "")
    return picture(WIDTH, HEIGHT, label, "progress-scale", parts)
