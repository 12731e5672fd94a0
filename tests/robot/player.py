"""The robot technician: takes one job from check-in to its end as the pages offer it."""

import uuid
from datetime import timedelta
from random import Random
from time import process_time
from urllib.parse import urlsplit

from django.utils import timezone

from bowcore.stages.course import Progress
from shop.casework.state import job_state
from shop.schema.accounts.models import Member
from shop.schema.book.models import BookEntry
from shop.schema.jobs.models import Job
from shop.simulated.models import SimulatedBench
from tests.robot import rules
from tests.robot.answers import Answers
from tests.robot.archer import Archer
from tests.robot.page import read_page
from tests.robot.story import Story

HONEST, HASTY, CLUMSY = "honest", "hasty", "clumsy"
STYLES = (HONEST, HASTY, CLUMSY)
MOST_ACTS = 160
STUCK_AFTER = 7
"""So many acts in a row that change nothing: there is no way on."""
DRAWS = {"26.0": "27", "25.0": "27"}
WRONG = ("999", "-5", "31 1/0", "0", "abc", "", "33 9/8", "6 1/2 1/2")
"""What a clumsy technician types."""


class Player:
    """One technician at one job."""

    def __init__(self, client, seed, style="", services=(), model=""):
        self.rng = Random(seed)
        self.client = client
        self.story = Story(seed, style or self.rng.choice(STYLES))
        self.wanted_services, self.wanted_model = list(services), model
        self.archer = Archer(seed)
        self.alike, self.asked_before, self.same_version = 0, "", 0
        self.skipped = False
        self.done, self.done_at = set(), -1

    def play(self):
        """Play the job to its end."""
        apprentice = self.rng.random() < 0.12 and not self.wanted_services
        self.story.who = "pia" if apprentice else "tomas"
        self.client.force_login(Member.objects.get(username=self.story.who))
        if not self._check_in():
            return self.story
        page = self._get(f"/jobs/{self.story.job_id}/")
        while len(self.story.acts) < MOST_ACTS and self.story.outcome == "unfinished":
            page = self._act_on(page)
            self._look_for_the_end(page)
        return self.story

    # ---- the counter
    def _check_in(self):
        page = self._get("/jobs/new/?new=R.%20Okafor")
        form = page.form("check_in")
        entry = self._model()
        self.story.family = f"{entry.family}, {entry.model}"
        offered = read_page(
            self.client.get(f"/jobs/new/services/?entry={entry.pk}"), "/jobs/new/services/"
        )
        names = offered.document.xpath("//input[@name='services']/@value")
        services = self.wanted_services or self._services(names)
        self.story.services = services
        draw = float(entry.draw_from_in + entry.draw_to_in) / 2
        weight = float(entry.weight_from_lbf + entry.weight_to_lbf) / 2
        fitted = self.rng.choice(
            [
                ["rest", "peep", "loop", "sight"],
                ["peep", "loop"],
                ["rest", "sight", "peep", "loop", "kisser"],
            ]
        )
        values = {
            "customer_name": "R. Okafor", "entry": str(entry.pk), "hand": "right",
            "marked_weight_lbf": f"{weight:g}", "marked_draw_in": f"{draw:g}", "services": services,
            "promised_on": (timezone.localdate() + timedelta(days=5)).isoformat(), "path": "carry_over",
            "fitted": fitted, "arrow_here": "on", "arrows": "own shafts",
        }  # fmt: skip
        if "draw_weight" in services:
            values["wanted_weight_lbf"] = f"{weight - self.rng.choice([4, 6, -3]):g}"
        if "draw_length" in services:
            values["wanted_draw_in"] = f"{draw + self.rng.choice([1, -1, 0.5]):g}"
        page = self._post(form, values, None)
        job = Job.objects.order_by("-pk").first()
        if job is None or job.services == []:
            self._breaks(rules.Broken("a bow can be checked in", " ".join(page.errors)))
            self.story.outcome = "not checked in"
            return False
        self.story.job_id = job.pk
        self._makes_the_bow(job)
        self.answers = Answers(job.pk, self.rng, self.archer)
        return True

    def _model(self):
        if self.wanted_model:
            return BookEntry.objects.get(model=self.wanted_model)
        return self.rng.choice(list(BookEntry.objects.order_by("pk")))

    def _services(self, names):
        parts = [name for name in names if name.startswith("replace_")]
        whole = [name for name in names if name == "whole_set"]
        small = [name for name in names if name not in parts and name not in whole]
        first = self.rng.choice([*small, *small, *whole, *parts])
        second = self.rng.choice(small)
        return list(dict.fromkeys([first, second])) if self.rng.random() < 0.25 else [first]

    def _makes_the_bow(self, job):
        spread = self.rng.choice([0.0, 0.02, 0.06])
        off = {role: self.rng.uniform(-spread, spread) for role in job_state(job).spec.roles}
        leans = {name: self.rng.choice([0, 0, 0.3, -0.25]) for name in ("lean", "lean_bottom")}
        SimulatedBench.objects.create(
            job=job, seed=self.story.seed % 40, off_in=off, leans_in=leans
        )

    # ---- one act
    def _act_on(self, page):
        self.answers.headline = page.headline
        act, values = self._choose(page)
        if act is None:
            self._breaks(rules.Broken("there is a way on", f"{page.address} “{page.headline}”"))
            self.story.outcome = "stuck"
            return page
        done_before = self._done_steps()
        seen = self._version()
        after = self._post(act.form, values, act) if act.form else self._get(act.href)
        self.story.acts.append(self._say(act, values, after))
        for one in (*rules.check_page(after, page), *rules.check_never_read(after, self.story.job_id),
                    *rules.check_act_is_possible(act, after), *rules.check_plan(after)):  # fmt: skip
            self._breaks(one)
        if act.form and self._version() > seen:
            self.same_version = 0
            self._minds_repeats(act)
            recorded = rules.check_recorded(act, self.posted, self.story.job_id)
            steps = rules.check_steps(self._done_steps(), done_before, act, self._half_read())
            for one in (*recorded, *steps):
                self._breaks(one)
        else:
            self.same_version += 1
        if self.same_version >= STUCK_AFTER:
            self._breaks(
                rules.Broken("two acts do not send to each other", " | ".join(self.story.acts[-3:]))
            )
            self.story.outcome = "stuck"
        return after

    def _minds_repeats(self, act):
        lines = self.posted.get("line", ()) if act.form and act.what == "take_readings" else ()
        asked = ", ".join(lines)
        self.alike = self.alike + 1 if asked and asked == self.asked_before else 1
        self.asked_before = asked
        if asked and self.alike == rules.MOST_ALIKE + 1:
            self._breaks(
                rules.Broken("nothing is asked for without end", f"{asked}, {self.alike} times")
            )

    def _choose(self, page):
        """What to do on this page, and what to write."""
        act = page.main
        if self.story.style == HASTY and (skip := self._skips(page)) is not None:
            return skip, {}
        if self.story.style == CLUMSY and self.rng.random() < 0.18 and (slip := self._slips(page)):
            return slip
        if act is None and page.answers:
            return self._answers(page), {}
        if act is None:
            return self._any(page)
        if act.form is None:
            return act, {}
        if act.form.name == "correct_change":
            return self._as_written(page, act), {}
        if act.form.name == "look_at_suspect":
            self.archer.mended.add(act.form.value("suspect"))
        if page.status == 422 and act.form.value("sure_of"):
            return act, {}
        values = self.answers.fill(act.form)
        if page.status == 422 and act.what == "write_thing":  # what was refused is taken out again
            values = dict.fromkeys(act.form.free, "") | values
        return act, values

    def _as_written(self, page, main):
        """This technician logs what was done, whatever the bow says."""
        kept = (a for a in page.acts if a.form and a.form.id == "as_written")
        return next(kept, main)

    def _answers(self, page):
        """Whether the suspect is behind the tear."""
        found = self.archer.has(page.answers[0].form.value("suspect"))
        return next(one for one in page.answers if bool(one.button) is found)

    def _skips(self, page):
        for act in page.acts:
            if act.form is not None and act.what in ("skip_wanted", "skip_drawn"):
                if (
                    act.what == "skip_wanted"
                    and "optional" not in act.words
                    and "must" not in act.words
                ):
                    continue
                return act
        return None

    def _slips(self, page):
        """Something clumsy: a wrong number, a step elsewhere, something taken back, half a gate."""
        kinds = []
        main = page.main
        if main is not None and main.form is not None and main.form.free:
            kinds += ["wrong"] * 3
        if page.form("cannot_read") is not None:
            kinds.append("cannot")
        kinds += ["elsewhere", "back"]
        kind = self.rng.choice(kinds)
        if kind == "wrong":
            values = self.answers.fill(main.form)
            name = self.rng.choice(main.form.free)
            return main, values | {name: self.rng.choice(WRONG)}
        if kind == "cannot":
            act = next(a for a in page.acts if a.form and a.what == "cannot_read")
            return act, {"reason": self.rng.choice(["", "no tool for it"])}
        if kind == "elsewhere":
            links = [
                a
                for a in page.acts
                if a.href and a.what in ("step", "log", "bow", "job", "sheet", "sight")
            ]
            return (self.rng.choice(links), {}) if links else None
        taking = [
            a for a in page.acts if a.form and a.what in ("take_back", "part_not_on", "correct")
        ]
        return (self.rng.choice(taking), {}) if taking else None

    def _any(self, page):
        links = [a for a in page.acts if a.href and a.what == "job"]
        return (links[0], {}) if links else (None, {})

    # ---- looking
    def _look_for_the_end(self, page):
        job = Job.objects.get(pk=self.story.job_id)
        if job.handed_over_at:
            self.story.outcome = "handed over"
            return
        holds = [one for one in job.holds.all() if one.lifted_at is None]
        if any(one.kind == "signature" for one in holds):
            self.story.outcome = "waits for a signature"
        elif holds and self.same_version >= 3:
            self.story.outcome = "held"

    def _state(self):
        return self.answers.state()

    def _version(self):
        return Job.objects.values_list("version", flat=True).get(pk=self.story.job_id)

    def _done_steps(self):
        """Looked up once a version of the job."""
        now = self._version()
        if self.done_at != now:
            steps = self._state().course.steps
            self.done = {one.step.key for one in steps if one.progress is Progress.DONE}
            self.done_at = now
        return self.done

    def _half_read(self):
        """Whether what was read just now wants another take."""
        return bool(set(self.posted.get("line", ())) & set(self._state().course.to_read))

    def _say(self, act, values, page):
        how = {n: v for n, v in values.items() if not n.endswith("-outcome") and n != "points"}
        button = f" [{act.button[0]}={act.button[1]}]" if act.button else ""
        mark = "" if page.status == 200 else f" -> {page.status} {' '.join(page.errors)[:140]}"
        where = urlsplit(page.address).path + (
            "?" + urlsplit(page.address).query if urlsplit(page.address).query else ""
        )
        return f"{act.words[:40]}{button} ({act.what}) {how or ''}{mark} -> {where} “{page.headline[:90]}”"

    def _breaks(self, one):
        if str(one) not in map(str, self.story.broken):
            self.story.broken.append(one)

    # ---- the wire
    def _get(self, address):
        began = process_time()
        response = self.client.get(address, follow=True)
        if response.get("Content-Type", "").startswith("text/html"):
            return self._answer(response, address, began)
        return self._get(f"/jobs/{self.story.job_id}/")  # a file: the browser stays in the job

    def _post(self, form, values, act):
        posted = form.values()
        for name, value in values.items():
            posted[name] = value if isinstance(value, list) else [value]
        if act is not None and act.button:
            posted[act.button[0]] = [act.button[1]]
        posted["key"] = [str(uuid.UUID(int=self.rng.getrandbits(128), version=4))]
        self.posted = posted
        path = urlsplit(form.action)
        address = path.path + (f"?{path.query}" if path.query else "")
        began = process_time()
        response = self.client.post(address, posted, follow=True)
        return self._answer(response, address, began)

    def _answer(self, response, address, began):
        self.story.times.append((process_time() - began) / (1 + len(response.redirect_chain)))
        if response.redirect_chain:
            address = response.redirect_chain[-1][0]
        return read_page(response, address)
