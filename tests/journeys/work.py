"""Someone at work on one job in the browser: does what the screen asks, reads off the simulated bow."""

from fractions import Fraction
from typing import ClassVar

from selenium.webdriver.common.keys import Keys

from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import say_inches
from bowcore.work_order.needs import mark
from shop.casework.state import job_state
from shop.demo.job_script import MARKED
from shop.schema.jobs.models import Job
from shop.simulated.bench import bow_now
from shop.simulated.models import SimulatedBench
from shop.stages.replace.actions.cycle import next_part

TAB, ENTER, SPACE = Keys.TAB, Keys.ENTER, Keys.SPACE


def with_alt(key):
    """The keys of a link that leaves the page."""
    return Keys.ALT, key, Keys.NULL


TUGS = {"toward": "1", "away": "2", "on it": "3"}


class Work:
    """The newest job, its simulated bow, and a person in front of the screen."""

    seen: ClassVar = set()

    def __init__(self, person, seed=11):
        self.person, self.job_id = person, Job.objects.latest("pk").pk
        self.bench, _ = SimulatedBench.objects.get_or_create(
            job_id=self.job_id, defaults={"seed": seed}
        )
        self.lengths = {}

    @property
    def job(self):
        return Job.objects.get(pk=self.job_id)

    def state(self):
        return job_state(self.job)

    def bow(self):
        """The bow as it is now, after everything in the ledger."""
        return bow_now(self.state())

    def does(self, act):
        """Act, and wait until the screen shows what came of it."""
        version = self.job.version
        act()
        self.person.wait(lambda d: self.job.version > version, words="a newer version")
        self.person.wait(lambda d: d.find_element("css selector", ".job").get_attribute(
            "data-version") == str(self.job.version), words="the newest version")  # fmt: skip
        self.person.settles()

    def looks(self):
        """Every kind of screen is checked for accessibility, once in a run."""
        here = self.person.find("h1").text[:14]
        if here not in self.seen:
            self.seen.add(here)
            self.person.axe()

    def value_of(self, css):
        found = self.person.all(css)
        return found[0].get_attribute("value") if found else None

    def asked(self):
        """Which quantity the screen asks for, or none."""
        return self.open_line() and self.open_line().get_attribute("data-line")

    def open_line(self):
        """The line that is open for entry, or None."""
        return next(iter(self.person.all("#entry .line.open")), None)

    def field(self, which="text"):
        """A field of the open line."""
        return self.person.find(f"#entry .line.open [id$='-{which}']")

    def read(self):
        """Type every line that is asked for, each one's direction first, Enter after each."""
        names = [one.get_attribute("data-line") for one in self.person.all("#entry .line")]
        bow = self.bow()
        for name in names[:-1]:
            self.type_line(bow, name)
            self.person.wait(lambda d, name=name: self.asked() != name, words="the next line")
        self.does(lambda: self.type_line(bow, names[-1]))

    def type_line(self, bow, name):
        """The direction, the number, and Enter."""
        text, key = bow.typed(name)
        if bow.named(name).two:
            top, bottom = both_of(text, key)
            self.field().send_keys(top, ENTER)  # and on to the other one
            self.field("other").send_keys(bottom, ENTER)
            return
        hotkeys = {one.key: one.hotkey for one in bow.named(name).directions}
        if key:
            self.field().send_keys(hotkeys[key])
        self.field().send_keys(text, ENTER)

    def write_mark(self):
        """Write down the mark that is asked for."""
        key = self.value_of("#note input[name=mark]")
        value = MARKED[key]
        if mark(key).choices:
            number = [k for k, _ in mark(key).choices].index(value) + 1
            self.does(lambda: self.person.types(str(number), ENTER))
        else:
            self.does(lambda: self.person.find("#value").send_keys(value, ENTER))

    def gate(self):
        """Space on every point, Tab to the next, Enter to let down."""
        self.person.sees("Gate, point by point")
        self.looks()
        points = len(self.person.all(".gate input"))
        for number in range(points):
            self.person.types(SPACE, *([TAB] if number < points - 1 else []))
        self.does(lambda: self.person.types(ENTER))

    def enter(self):
        """The one next action, by keyboard."""
        self.looks()
        self.does(lambda: self.person.types(ENTER))

    def gets_parts(self):
        """Nothing is ordered: every part lies on the shelf."""
        self.person.types(ENTER)
        self.person.sees("Where does each new part come from")
        self.looks()
        self.does(lambda: self.person.touches(words="All from the shelf"))

    def puts_on_next(self):
        """The new part at its book length, or at the one this journey gave it."""
        role = next_part(self.state())
        book = say_inches(self.state().spec.part(role).length_in, 64)
        self.puts_on(self.lengths.pop(role, book))

    def puts_on(self, length):
        """The new part's measured length."""
        self.person.sees("In the press: UNDER LOAD")
        self.looks()
        field = self.person.find("#length")
        field.clear()
        self.does(lambda: field.send_keys(length, ENTER))

    def tugs(self):
        """Answer the tug test as the simulated bow would."""
        self.looks()
        role = self.value_of("#tug input[name=role]")
        off, tug = self.bow().mark(role)
        self.person.types(Keys.ESCAPE)
        self.person.types(TUGS[tug])
        field = self.person.find("#off")
        self.does(lambda: field.send_keys(str(Fraction(off)) if off else "", ENTER))

    def looks_again(self):
        """Go to the reading that the plan wants once more."""
        self.person.types(ENTER)
        self.person.wait(lambda d: self.asked(), words="the reading's entry")

    def confirms_the_log(self):
        """The last change was as it is written down, whatever the bow says."""
        self.looks()
        self.does(lambda: self.person.touches(css="button[form=as_written]"))

    def next_thing(self):
        """Do what the screen asks; what it was, or "" when it asks for nothing here."""
        if self.asked():
            self.read()
            return "read"
        screens = (
            ("form#note", self.write_mark), ("#gate .gate input:not(details *)", self.gate),
            ("#length", self.puts_on_next), ("#change", self.enter), ("#bolts", self.enter),
            ("#draws", self.enter), ("a[data-next][href$='/string_set/']", self.gets_parts),
            ("button[form=open][data-next]", self.enter), ("#tug", self.tugs), ("#home", self.enter),
            ("button[form=accept][data-next]", self.enter),
            ("a[data-next][href*='?at=']", self.looks_again),
            ("button[form=as_written]", self.confirms_the_log),
        )  # fmt: skip
        for css, do in screens:
            if self.person.all(css):
                do()
                return css
        return ""

    def goes_on(self, until="", most=90):
        """Do everything that is asked until nothing is, or until a screen has those words."""
        done = []
        for _ in range(most):
            if until and until in self.person.text():
                return done
            step = self.next_thing()
            if not step:
                return done
            done.append(step)
        raise AssertionError(f"no end in sight: {done}")

    def hands_over(self):
        ready = "up to date and inside"
        self.person.goes(f"/jobs/{self.job_id}/hand_over/")
        if self.goes_on(until=ready):  # something was still to be read
            self.person.goes(f"/jobs/{self.job_id}/hand_over/")
        self.person.sees(ready)
        self.looks()
        self.does(lambda: self.person.types(ENTER))
        self.person.sees("Handed over")


def both_of(text, key):
    """Two readings with that difference, as a square would give them."""
    size = Fraction(text or 0) * (1 if key == "top" else -1)
    return say_inches(7 + size), "7"


def tap_readings(person, bow):
    """Enter every line by the keypad alone, and save."""
    for name in [one.get_attribute("data-line") for one in person.all("#entry .line")]:
        person.touches(css=f"#{name}-text")
        person.wait(
            lambda d, name=name: person.all(f".line.open[data-line={name}]"), words=f"{name} open"
        )
        tap_line(person, name, *bow.typed(name))
    person.touches(css=".bar .act")


def tap_line(person, name, text, direction):
    """The open line's number and direction, by its keys."""
    quantity = QUANTITIES[name]
    if quantity.two:
        both = (f"#{name}-text", f"#{name}-other")
        for css, piece in zip(both, both_of(text, direction), strict=True):
            person.touches(css=css)
            tap_keys(person, piece)
        return
    if direction:
        number = [one.key for one in quantity.directions].index(direction) + 1
        person.touches(css=f".line.open .stops .choice:nth-of-type({number})")
    tap_keys(person, text)


def tap_keys(person, text):
    """A number by its whole and its part."""
    whole, _, part = text.rpartition(" ") if "/" in text else text.partition(".")
    pieces = (whole, part) if "/" in text else (whole, f".{part}" if part else "")
    for piece in filter(None, pieces):
        person.touches(css=f".line.open .pad button[data-value='{piece}']")
