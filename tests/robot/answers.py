"""What the robot writes into a form: what its tools show on the simulated bow."""

from fractions import Fraction
from urllib.parse import parse_qs, urlsplit

from bowcore.errors import BadInput
from bowcore.quantities.inches import say_inches
from bowcore.stages.replace.gates import gate_points
from bowcore.work_order.needs import mark
from shop.casework.state import job_state
from shop.demo import people
from shop.demo.job_script import MARKED
from shop.schema.jobs.models import Job
from shop.simulated.bench import bow_now
from shop.stages.replace.actions.cycle import next_part

ARROW = {
    "name": "own shafts", "mass_gr": "412", "length_in": "28 1/2", "shaft_in": "0.246", "spine": "400",
    "nock_in": "1/4",
}  # fmt: skip
SIGHT = {"name": "five pins", "axis_2": "checked", "axis_3": "checked"}
SEVERAL = "Several pulls at once"
"""What a line says where all takes may be typed in one go."""
THINGS = {
    "arrow": ARROW, "sight": SIGHT, "rest": {"kind": "fixed"}, "ties": {"school": "both"},
    "loop": {"cord": "twisted, 2 mm", "cut_in": "6"}, "peep": {"hole": "3/16", "tied": "provisional"},
}  # fmt: skip


class Answers:
    """What is typed into each form, read off one job's simulated bow."""

    def __init__(self, job_id, rng, archer):
        self.job_id, self.rng, self.archer = job_id, rng, archer
        self.headline = ""
        self._state = self._bow = None

    def state(self):
        """The job's state, looked up once a version of the job."""
        job = Job.objects.select_related("bow__entry", "shop").get(pk=self.job_id)
        if self._state is None or self._state.job.version != job.version:
            self._state, self._bow = job_state(job), None
        return self._state

    def bow(self):
        """The simulated bow as it is now."""
        state = self.state()
        if self._bow is None:
            self._bow = bow_now(state)
        return self._bow

    def fill(self, form):
        """Values by name, to be put over what the form shows; an unknown form is posted as it stands."""
        fill = getattr(self, f"_{form.name}", None)
        return {} if fill is None else fill(form)

    def _inspect(self, form):
        return {name: "fine" for name in form.names if name.endswith("-outcome")}

    def _take_readings(self, form):
        found = {}
        for name in form.values().get("line", ()):
            read = self.reading(name)
            if SEVERAL in form.element.xpath(f"string(.//*[@data-line='{name}'])"):
                read["text"] = " ".join([read["text"], *(self.reading(name)["text"] for _ in "12")])
            found |= {f"{name}-{field}": text for field, text in read.items()}
        return found

    def _correct(self, form):
        return self.reading(form.value("quantity"))

    def reading(self, name):
        """One take as it would be typed."""
        bow = self.bow()
        try:
            text, direction = bow.typed(name)
        except BadInput:
            return self._unknown(bow.named(name))
        what = bow.named(name)
        found = {"text": text}
        if what.two:
            sign = 1 if direction == what.directions[0].key else -1
            size = Fraction(text or 0) * (sign if direction else 0)
            found = {"text": say_inches(5 + size), "other": "5"}
        elif what.directions:
            found["direction"] = direction
        return found

    def _unknown(self, what):
        """What the simulated bow does not have: as it should be."""
        if what.directions:
            return {"text": "", "direction": next(d.key for d in what.directions if not d.sign)}
        return {"text": "1/2" if what.unit == "in" else "20"}

    def _write_mark(self, form):
        if "value" not in form.names:
            return {}
        key = form.value("mark")
        value = MARKED.get(key) or ("done" if not mark(key).choices else mark(key).choices[0][0])
        return {"value": value}

    def _count_bolts(self, form):
        return {"top": "2", "bottom": "2"}

    def _order_set(self, form):
        sources = [name for name in form.names if name.endswith("-source")]
        return dict.fromkeys(sources, "from the shelf") | {"wanted_by": ""}

    def _set_arrived(self, form):
        found = {}
        state = self.state()
        for name in form.names:
            if name.endswith("-role"):
                row, role = name.removesuffix("-role"), form.value(name)
                if role in state.spec.replaceable:
                    found[f"{row}-length_in"] = say_inches(state.spec.part(role).length_in, 64)
                    found[f"{row}-served_top_in"] = found[f"{row}-served_bottom_in"] = "6"
        return found

    def _swap(self, form):
        state = self.state()
        length = say_inches(state.spec.part(next_part(state)).length_in, 64)
        return {"length_in": length, "strands": "24", "lay": "z"}

    def _draw_in(self, form):
        return {"draws": str(self.state().course.to_draw)} if "draws" in form.free else {}

    def _let_down(self, form):
        found = {"points": [one.key for one in gate_points(self.state().in_press)]}
        if "second_name" in form.names:
            found |= {"second_name": "tomas", "second_password": people.PASSWORD}
        return found

    def _check_part(self, form):
        if "tug" not in form.names:
            return {}
        off, tug = self.bow().mark(form.value("role"))
        seen = {"tug": tug, "off_mark_in": str(Fraction(off)) if off else ""}
        return seen | ({"looked_twice": "on"} if "looked_twice" in form.names else {})

    def _write_thing(self, form):
        known = THINGS.get(form.value("thing"), {})
        found = {name: value for name, value in known.items() if name in form.names}
        return {name: value for name, value in found.items() if self._fits(form, name, value)}

    def _fits(self, form, name, value):
        offered = form.options(name)
        return not offered or value in offered

    def _write_shot(self, form):
        taps = {
            key: self.state().facts.net_steps(key) for key in ("rest_out", "rest_up", "nock_point")
        }
        other = "another archer" in self.headline.lower()
        x, y = self.archer.tear(taps, by_another=other)
        shot = {"point_x": "0", "point_y": "0", "nock_x": str(x), "nock_y": str(y)}
        if other:
            shot["shooter"] = "Ode"
        if "an arrow of" in self.headline or "nother arrow" in self.headline:
            shot |= {"arrow": "the shop's", "spine": "350"}
        return shot

    def _write_butt_shot(self, form):
        taps = {
            key: self.state().facts.net_steps(key) for key in ("rest_out", "rest_up", "nock_point")
        }
        x, y = self.archer.tear(taps)
        return {"impact_x": str(4 * x), "impact_y": str(4 * y)}

    def _measure_cam(self, form):
        radii = self.bow().cam_radii()
        return {} if radii is None else {
            name: f"{getattr(radii, name):.2f}" for name in ("peg_in", "take_up_in", "let_out_in")
        }  # fmt: skip

    def _hand_over(self, form):
        return {"not_done": ""}

    def _leave_it(self, form):
        if form.value("reason") or "reason" not in form.free:
            return {}
        return {"reason": "the customer likes it so"}

    def _lift_hold(self, form):
        return {"reason": "looked at again"}


def asked_at(address):
    """The quantity or mark that an address opens."""
    return (parse_qs(urlsplit(address).query).get("at") or [""])[0]
