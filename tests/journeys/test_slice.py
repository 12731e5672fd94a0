"""One bow from check-in to hand-over in a real browser: by keyboard alone, then by touch."""

from random import Random

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select
from shop.demo.hidden import HiddenBow

from bowcore.casefile import Case
from bowcore.cases import read_spec
from bowcore.quantities.catalogue import QUANTITIES
from shop.jobs.models import Job
from shop.ledger.models import Adjustment

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]

TAB, ENTER, SPACE = Keys.TAB, Keys.ENTER, Keys.SPACE


def hidden_bow(cable_short=0.0):
    bow = HiddenBow(read_spec(Case(Job.objects.get().spec)), Random(11))
    bow.off_in["cable_a"] = cable_short
    return bow


def asked(person):
    """Which quantity the screen asks for, or none."""
    found = person.all("#entry input[name=quantity]")
    return found[0].get_attribute("value") if found else None


def until_changed(person, version):
    person.wait(lambda d: Job.objects.get().version > version)
    person.wait(lambda d: d.find_element(By.CSS_SELECTOR, ".job").get_attribute("data-version")
                == str(Job.objects.get().version))  # fmt: skip
    person.settles()


def read_all_by_keyboard(person, bow):
    """Type every reading that is asked for; the focus is always where it is needed."""
    while name := asked(person):
        version = Job.objects.get().version
        text, first = bow.read(name)
        if first:
            person.types(
                {"top": "t", "bottom": "b", "both": "0"}[first] if first != "both" else Keys.ESCAPE
            )
            if first == "both":
                person.types("0")
                person.find("#text").send_keys("")
        person.find("#text").send_keys(text, ENTER)
        until_changed(person, version)


def test_the_whole_slice_by_keyboard(person):
    person.logs_in()
    person.types("c")
    person.sees("whose bow")
    person.types("N. Ferreira", ENTER)
    person.sees("Nobody called")
    person.axe()
    person.types(TAB, TAB)  # past the button, to "New customer"
    person.types(ENTER)
    person.sees("Asked for")
    person.axe()
    person.find("#id_customer_name").send_keys(TAB, "0555 1", TAB, "T", TAB, TAB, "55", TAB, "28 1/2",
                                               TAB, TAB, SPACE)  # fmt: skip
    person.types(ENTER)
    person.sees("Touch each place")
    person.axe()
    person.types(ENTER)
    person.sees("before anything is loosened")
    person.axe()
    bow = hidden_bow()
    read_all_by_keyboard(person, bow)

    person.sees("Before the press opens")
    person.axe()
    version = Job.objects.get().version
    person.types(ENTER)
    until_changed(person, version)
    person.sees("Press is OPEN")
    person.axe()
    version = Job.objects.get().version
    person.types("34 7/8", ENTER)
    until_changed(person, version)
    person.axe()
    bow.off_in["cable_a"] = -0.06
    gate_by_keyboard(person)
    person.sees("what the last change moved")

    for _ in range(6):
        read_all_by_keyboard(person, bow)
        if "Leave it: every" in person.text() or "required is fresh" in person.text():
            break
        person.sees("One press.")
        person.axe()
        version = Job.objects.get().version
        person.types(ENTER)
        until_changed(person, version)
        person.sees("What was really put in")
        person.axe()
        version = Job.objects.get().version
        person.types(ENTER)
        until_changed(person, version)
        press = Job.objects.get().presscycle_set.last()
        for row in Adjustment.objects.filter(press=press):
            bow.twist(row.role, row.half_twists)
        gate_by_keyboard(person)

    person.goes(f"/jobs/{Job.objects.get().pk}/hand_over/")
    person.sees("fresh and inside")
    person.axe()
    version = Job.objects.get().version
    person.types(ENTER)
    until_changed(person, version)
    person.sees("Handed over")
    person.types(ENTER)
    person.sees("Goes out")
    person.axe()
    assert Job.objects.get().handed_over_at


def gate_by_keyboard(person):
    """Space on every point, Tab to the next, Enter to let down."""
    version = Job.objects.get().version
    person.sees("Gate, point by point")
    points = len(person.all(".gate input"))
    for number in range(points):
        person.types(SPACE)
        if number < points - 1:
            person.types(TAB)
    person.types(ENTER)
    until_changed(person, version)


def tap_reading(person, name, text, first):
    """Enter a reading by the keypad alone."""
    quantity = QUANTITIES[name]
    if first:
        person.touches(words={"top": "Top T", "bottom": "Bottom B", "both": "Both together"}[first])
    if quantity.unit == "in":
        whole, _, part = text.rpartition(" ") if "/" in text else (text, "", "")
        pieces = [p for p in (whole, part) if p]
    else:
        whole, _, tenth = text.partition(".")
        pieces = [whole, f".{tenth}"]
    for piece in pieces:
        person.touches(css=f".pad button[data-value='{piece}']")
    person.touches(css=".bar .act")


def test_a_baseline_and_a_gate_by_touch_on_a_tablet(person, bench):
    bench.check_in(["replace_cable_a", "back_to_spec"])
    bench.look_over()
    person.size(800, 1280)
    person.logs_in()
    person.touches(words="R. Okafor")
    person.sees("before anything is loosened")
    person.axe()
    bow = hidden_bow()
    while name := asked(person):
        version = Job.objects.get().version
        tap_reading(person, name, *bow.read(name))
        until_changed(person, version)
    person.sees("Before the press opens")
    version = Job.objects.get().version
    person.touches(css=".bar .act")
    until_changed(person, version)
    version = Job.objects.get().version
    person.find("#length").send_keys("34 7/8")
    person.touches(css=".bar .act")
    until_changed(person, version)
    for label in person.all(".gate label"):
        label.click()
    version = Job.objects.get().version
    person.touches(css=".bar .act")
    until_changed(person, version)
    person.sees("what the last change moved")
    person.axe()


def test_every_other_screen_is_clean_in_both_themes(person, bench):
    bench.check_in(["back_to_spec"], waits=["arrows"])
    bench.look_over(limbs_bottom=("stop", "at the pocket"))
    bench.read("axle_to_axle")
    person.logs_in()
    job = Job.objects.get()
    paths = ["/", "/find/?q=okafor", "/book/", f"/book/{job.bow.entry_id}/", "/shop/", "/nowhere/",
             f"/bows/{job.bow_id}/", f"/jobs/{job.pk}/look_over/", f"/jobs/{job.pk}/log/",
             f"/jobs/{job.pk}/baseline/?at=nock_to_peep", f"/jobs/{job.pk}/sheet/"]  # fmt: skip
    for theme in ("light", "dark"):
        for path in paths:
            person.goes(path)
            assert person.find("html").get_attribute("data-bs-theme") == theme
            person.axe()
        person.driver.get_log("browser")  # the 404 page is a 404
        person.goes("/")
        person.find(".who summary").click()
        person.touches(words="Dim shop" if theme == "light" else "Daylight")
        person.sees("in hand")


def test_help_find_and_a_mistyped_reading(person, bench):
    bench.check_in(["back_to_spec"])
    bench.look_over()
    person.logs_in()
    person.types("?")
    person.sees("the one next action")
    person.axe()
    person.types(Keys.ESCAPE)
    person.types("/")
    person.types("lark", ENTER)
    person.sees("Jobs")
    person.goes(f"/jobs/{Job.objects.get().pk}/")
    person.types("31 1/0", ENTER)
    person.sees("zero below the line")
    assert person.find("#text").get_attribute("value") == "31 1/0"
    person.find("#text").clear()
    person.find("#text").send_keys("31 3/16", ENTER)
    person.sees("1 of 6 read")
    person.goes(f"/jobs/{Job.objects.get().pk}/log/")
    person.find("a[href*='/readings/']").click()
    person.sees("slip of the finger")
    person.axe()
    person.find("#text").send_keys("31 1/4", ENTER)
    person.sees("corrected axle to axle")


def test_a_killed_server_loses_nothing_and_doubles_nothing(chromium, server, floor):
    from shop.customers.models import Customer
    from shop.demo.saltgate import Bench
    from shop.measurements.models import Reading
    from tests.journeys.conftest import Person

    bench = Bench(Customer.objects.create(name="R. Okafor"), 0, 3)
    bench.check_in(["back_to_spec"])
    bench.look_over()
    person = Person(chromium, server.url)
    person.size(1280, 800)
    person.logs_in()
    person.goes(f"/jobs/{bench.job.pk}/")
    person.find("#text").send_keys("31 3/1")
    server.kill()
    person.find("#text").send_keys("6", ENTER)
    person.sees("No connection.")
    assert person.find("#text").get_attribute("value") == "31 3/16"
    person.axe()
    server.start()
    person.wait(lambda d: Reading.objects.count() == 1, 20)
    person.wait(lambda d: not d.find_element(By.ID, "offline").is_displayed(), 20)
    assert Reading.objects.get().raw == "31 3/16"
    # typed and not sent, then the page is gone: the draft comes back
    person.wait(lambda d: asked(person) == "brace_height")
    person.find("#text").send_keys("6 5/")
    person.goes("/")
    person.goes(f"/jobs/{bench.job.pk}/")
    person.wait(lambda d: person.find("#text").get_attribute("value") == "6 5/")
    chromium.get_log("browser")  # the refused connections were meant


def test_a_second_person_sees_what_the_first_did(person, bench, stamp, tomas):
    from shop.bench.actions.take_reading import Typed, take_reading

    bench.check_in(["back_to_spec"])
    bench.look_over()
    person.logs_in()
    person.goes(f"/jobs/{bench.job.pk}/")
    person.find("#text").send_keys("31 3/16")
    take_reading(bench.job.pk, Typed("brace_height", "6 5/8"), stamp(tomas, bench.job))
    person.types(ENTER)
    person.sees("Someone else has been at this job")
    person.sees("Tomas Reckert")
    assert person.find("#text").get_attribute("value") == "31 3/16"
    person.find("#text").send_keys(ENTER)
    person.sees("2 of 6 read")


def test_a_stepper_offers_half_twists_in_words(person, bench):
    bench.check_in(["back_to_spec"])
    bench.look_over()
    bench.bow.off_in = {"cable_a": -0.07}
    bench.read(
        "axle_to_axle", "brace_height", "peak_weight", "holding_weight", "stop_gap", "nock_to_peep"
    )
    person.logs_in()
    person.goes(f"/jobs/{bench.job.pk}/")
    person.sees("One press.")
    person.types("o")
    Select(person.find("#steps-cable_b")).select_by_visible_text("half a twist out")
    person.touches(words="Open the press for this")
    person.sees("Press is OPEN")
