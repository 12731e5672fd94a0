"""One bow from check-in to hand-over in a real browser: by keyboard alone, then by touch."""

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from bowcore.stages.inspection.places import PLACES
from bowcore.work_order.needs import mark
from shop.demo import people
from shop.demo.job_script import MARKED
from shop.schema.accounts.models import Shop
from shop.schema.jobs.models import Job
from tests.journeys.work import ENTER, SPACE, TAB, Work, tap_readings, with_alt

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


FIELD = "#entry .line.open [data-field]"


def asked(person):
    """Which quantity the screen asks for, or none."""
    found = person.all("#entry .line.open")
    return found[0].get_attribute("data-line") if found else None


def saves(person, text):
    """Type into the open line, and save what was read."""
    person.find(FIELD).send_keys(text)
    person.touches(css=".bar .act")


def test_the_whole_slice_by_keyboard(person):
    person.logs_in()
    person.types(*with_alt("c"))
    person.sees("whose bow")
    person.types("N. Ferreira", ENTER)
    person.sees("No customer called")
    person.axe()
    person.types(TAB, TAB)  # past the button, to "New customer"
    person.types(ENTER)
    person.sees("Asked for")
    person.axe()
    person.find("#id_customer_name").send_keys(
        TAB, "0555 1", TAB, "Tidewell L", TAB, TAB, TAB, "55", TAB, "28 1/2", TAB, TAB, TAB, SPACE
    )
    person.settles()  # what the chosen model can have is fetched while the rest is typed
    person.types(ENTER)
    person.sees("place by place")
    person.axe()
    person.types(ENTER)
    person.sees("Say what was seen at every place")  # nothing is ticked that nobody looked at
    person.types(*"111")
    person.types("3")
    person.types(SPACE, TAB)  # which cable: the first one
    person.types(TAB, "frayed at the guard", ENTER)
    person.types(*"11111111")
    assert len(person.all(".place input[type=radio]:checked")) == len(PLACES)
    person.types(ENTER)
    person.sees("before anything is loosened")
    job = Job.objects.get()
    assert job.finding_set.get(place="cables").parts == ["cable_a"]
    assert "replace_cable_b" not in job.services
    person.axe()
    work = Work(person)
    work.goes_on(until="take the old one off")
    work.gets_parts()

    person.sees("Eye protection on?")
    work.enter()
    work.puts_on("34 15/16")  # a sixteenth long
    work.gate()
    work.goes_on(until="every number is inside")
    assert Job.objects.get().presscycle_set.count() > 1
    work.hands_over()
    person.types(ENTER)
    person.sees("Goes out")
    person.axe()
    assert Job.objects.get().handed_over_at


def test_a_baseline_and_a_gate_by_touch_on_a_tablet(person, script):
    Shop.objects.update(back_off=True)
    script.check_in(["replace_cable_a", "back_to_spec"], fitted=[])
    script.inspect()
    person.size(800, 1280)
    person.logs_in()
    person.touches(words="R. Okafor")
    person.sees("before anything is loosened")
    person.axe()
    work = Work(person)
    while work.asked():
        work.does(lambda: tap_readings(person, work.bow()))
    while key := work.value_of("#note input[name=mark]"):
        if key.startswith("bolts"):
            person.touches(css=".pad button[data-value='2']")
        elif mark(key).choices:
            person.touches(css=".active label.choice")
        else:
            person.find("#value").send_keys(MARKED[key])
        work.does(lambda: person.touches(css=".bar .act"))
    person.sees("How far out are the limb bolts?")
    person.axe()
    for which in ("#top", "#bottom"):
        person.find(which).send_keys("2")
    work.does(lambda: person.touches(css=".bar .act"))
    person.sees("take the old one off")
    person.touches(css=".bar .act")
    work.does(lambda: person.touches(words="All from the shelf"))
    person.sees("Eye protection on?")
    work.does(lambda: person.touches(css=".bar .act"))
    person.find("#length").send_keys("34 15/16")  # in the place of the length that is offered
    work.does(lambda: person.touches(css=".bar .act"))
    for label in person.all(".gate label"):
        label.click()
    work.does(lambda: person.touches(css=".bar .act"))
    person.sees("Limb bolts back in")
    person.axe()


def test_every_other_screen_is_clean_in_both_themes(person, script):
    script.check_in(["back_to_spec"], waits=["arrows"])
    script.inspect(limbs_bottom=("stop", "at the pocket"))
    script.read("axle_to_axle")
    person.logs_in()
    job = Job.objects.get()
    paths = ["/", "/find/?q=okafor", "/book/", f"/book/{job.bow.entry_id}/", "/shop/", "/nowhere/",
             f"/bows/{job.bow_id}/", f"/jobs/{job.pk}/inspection/", f"/jobs/{job.pk}/log/",
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


def test_help_find_and_a_mistyped_reading(person, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    person.logs_in()
    person.types("?")
    person.sees("the next action, bottom right")
    person.axe()
    person.types(Keys.ESCAPE)
    person.types("/")
    person.types("lark", ENTER)
    person.sees("Jobs")
    person.goes(f"/jobs/{Job.objects.get().pk}/")
    saves(person, "31 1/0")
    person.sees("zero below the line")
    assert person.find(FIELD).get_attribute("value") == "31 1/0"
    person.find(FIELD).clear()
    saves(person, "31 3/16")
    person.sees("1 of 21 on record")
    person.goes(f"/jobs/{Job.objects.get().pk}/log/")
    person.find("a[href*='/readings/']").click()
    person.sees("Only for a typing error")
    person.axe()
    person.find("#text").send_keys("31 1/4", ENTER)
    person.sees("corrected axle to axle")


def test_the_keys_that_are_printed_work_while_the_field_has_the_focus(person, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    script.read("axle_to_axle", "nock_to_peep")
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    work = Work(person)
    person.wait(lambda d: asked(person) == "loop_length")
    work.does(lambda: person.types("s"))  # wanted, and no must
    assert Job.objects.get().reading_set.get(quantity="loop_length").reason == "skipped"
    person.goes(f"/jobs/{script.job.pk}/baseline/?at=stop_gap")
    person.wait(lambda d: asked(person) == "stop_gap")
    person.types(Keys.ESCAPE)
    person.types("1")  # a digit goes to the field, wherever the focus is
    assert person.find(FIELD).get_attribute("value") == "1"
    person.find(FIELD).clear()
    person.driver.execute_script("htmx.trigger(document.body, 'htmx:afterSettle')")
    assert person.find(FIELD).get_attribute("value") == ""  # a swap brings no draft back
    person.find(FIELD).click()
    person.types("0")
    assert person.find("[data-key='0']").is_selected()
    person.sees("One pull on the board")
    person.axe()
    pulled = {"peak_weight": "54.5", "draw_length": "28 1/2"}
    for name, text in pulled.items():
        person.find(f"#{name}-text").send_keys(text)
    work.does(lambda: person.touches(css=".bar .act"))
    assert {r.quantity for r in Job.objects.get().reading_set.filter(reason="")} >= set(pulled)


def test_a_killed_server_loses_nothing_and_doubles_nothing(chromium, server, floor):
    from shop.demo.job_script import JobScript
    from shop.schema.customers.models import Customer
    from shop.schema.measurements.models import Reading
    from tests.journeys.conftest import Person

    script = JobScript(Customer.objects.create(name="R. Okafor"), 0, 3)
    script.check_in(["back_to_spec"])
    script.inspect()
    person = Person(chromium, server.url)
    person.size(1280, 800)
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    person.find(FIELD).send_keys("31 3/1")
    server.kill()
    saves(person, "6")
    person.sees("No connection.")
    assert person.find(FIELD).get_attribute("value") == "31 3/16"
    person.axe()
    server.start()
    person.wait(lambda d: Reading.objects.count() == 1, 20)
    person.wait(lambda d: not d.find_element(By.ID, "offline").is_displayed(), 20)
    assert Reading.objects.get().raw == "31 3/16"
    # typed and not sent, then the page is gone: the draft comes back
    person.wait(lambda d: asked(person) == "nock_to_peep")
    person.find(FIELD).send_keys("5 1/")
    person.goes("/")
    person.goes(f"/jobs/{script.job.pk}/")
    person.wait(lambda d: person.find(FIELD).get_attribute("value") == "5 1/")
    chromium.get_log("browser")  # the refused connections were meant


def outage(chromium, server):
    """A job at its baseline on the screen of a server that can be killed."""
    from shop.demo.job_script import JobScript
    from shop.schema.customers.models import Customer
    from tests.journeys.conftest import Person

    script = JobScript(Customer.objects.create(name="R. Okafor"), 0, 3)
    script.check_in(["back_to_spec"])
    script.inspect()
    person = Person(chromium, server.url)
    person.size(1280, 800)
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    person.find(FIELD)
    return script, person


def photographs_while_away(chromium, server, tmp_path):
    """A photo of the limb, taken while the server is away."""
    from PIL import Image

    script, person = outage(chromium, server)
    person.goes(f"/jobs/{script.job.pk}/inspection/")
    picture = tmp_path / "limb.jpg"
    Image.new("RGB", (300, 200), (10, 90, 200)).save(picture)
    server.kill()
    person.driver.find_element(By.CSS_SELECTOR, "input[type=file]").send_keys(str(picture))
    person.sees("No connection.")
    return person


def test_a_photo_taken_while_the_server_is_away_arrives(chromium, server, floor, tmp_path):
    from shop.schema.inspection.models import Photo

    person = photographs_while_away(chromium, server, tmp_path)
    server.start()
    person.wait(lambda d: Photo.objects.count() == 1, 20)
    person.wait(lambda d: not d.find_element(By.ID, "offline").is_displayed(), 20)
    chromium.get_log("browser")


def test_a_login_that_has_run_out_is_asked_for_and_then_it_is_sent(chromium, server, floor):
    from shop.schema.accounts.sessions import LoginSession
    from shop.schema.measurements.models import Reading

    _, person = outage(chromium, server)
    server.kill()
    saves(person, "31 3/16")
    person.sees("No connection.")
    LoginSession.objects.all().delete()
    server.start()
    person.wait(lambda d: "/login" in d.current_url, 20)
    stored = "return JSON.stringify(Object.entries(localStorage))"
    assert "csrf" not in chromium.execute_script(stored).lower()
    person.find("[name=username]").send_keys("ines")
    person.find("[name=password]").send_keys(people.PASSWORD, ENTER)
    person.wait(lambda d: Reading.objects.count() == 1, 20)
    chromium.get_log("browser")


def test_what_the_server_refuses_does_not_keep_the_rest_waiting(chromium, server, floor):
    from shop.schema.measurements.models import Reading

    script, person = outage(chromium, server)
    server.kill()
    saves(person, "31 3/16")
    person.sees("No connection.")
    ahead = """
      const [address, done] = arguments;
      const asked = indexedDB.open("fennock", 1);
      asked.onsuccess = () => {
        const store = asked.result.transaction("outbox", "readwrite").objectStore("outbox");
        store.getAll().onsuccess = (event) => {
          const row = event.target.result[0];
          store.put({...row, id: row.id - 1, key: "", url: address, fields: []}).onsuccess = () => done();
        };
      };"""
    chromium.execute_async_script(ahead, f"/jobs/{script.job.pk}/baseline/reading/")
    server.start()
    person.wait(lambda d: Reading.objects.count() == 1, 20)
    assert Reading.objects.get().raw == "31 3/16"
    person.sees("Not everything could be saved.")
    assert "was not saved" in person.find("#offline li").text
    person.goes("/")  # it is said on every page, until somebody has decided
    person.find("#offline [data-discard]").click()
    person.wait(lambda d: not d.find_element(By.ID, "offline").is_displayed(), 20)
    person.goes("/")
    assert not person.find("#offline").is_displayed()
    chromium.get_log("browser")


def changes_in_outbox(chromium, change):
    """The row that waits, with something of it changed (JavaScript)."""
    script = """
      const [done] = arguments;
      const asked = indexedDB.open("fennock", 1);
      asked.onsuccess = () => {
        const store = asked.result.transaction("outbox", "readwrite").objectStore("outbox");
        store.getAll().onsuccess = (event) => {
          const row = event.target.result[0];
          store.put({...row, CHANGE}).onsuccess = () => done();
        };
      };"""
    chromium.execute_async_script(script.replace("CHANGE", change))


def test_a_photo_that_met_a_failure_is_kept_until_it_is_taken(chromium, server, floor, tmp_path):
    """Also while somebody else uses the device, who learns that something waits."""
    from shop.schema.inspection.models import Photo

    person = photographs_while_away(chromium, server, tmp_path)
    changes_in_outbox(chromium, 'right: row.url, url: "/jobs/999999/inspection/photo/"')
    server.start()
    person.sees("limb.jpg was not saved")
    assert not Photo.objects.exists()
    changes_in_outbox(chromium, 'url: row.right, owner: row.user, user: "0"')
    person.goes("/")
    person.sees("another person's posts wait on this device")
    assert not Photo.objects.exists()
    changes_in_outbox(chromium, "user: row.owner")
    person.goes("/")
    person.find("#offline [data-again]").click()
    person.wait(lambda d: Photo.objects.count() == 1, 20)
    person.sees("What waited for another bow has been answered there.")
    chromium.get_log("browser")


NO_STORE = (
    "Object.defineProperty(window, 'indexedDB', {value: {open: () => { const asked = {}; "
    "setTimeout(() => asked.onerror?.(), 0); return asked; }}})"
)


@pytest.fixture
def storeless(chromium):
    """A browser in which no store can be opened, as in some private windows."""
    added = chromium.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": NO_STORE})
    yield chromium
    chromium.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", added)


def test_a_browser_that_keeps_nothing_says_so(storeless, server, floor):
    script, person = outage(storeless, server)
    person.goes(f"/jobs/{script.job.pk}/")
    person.find(FIELD)
    server.kill()
    saves(person, "31 3/16")
    person.sees("This browser keeps nothing")
    assert person.find(FIELD).get_attribute("value") == "31 3/16"
    server.start()
    storeless.get_log("browser")


def test_a_second_person_sees_what_the_first_did(person, script, submission, tomas):
    from shop.casework.readings.actions.take_reading import TypedReading, take_reading

    script.check_in(["back_to_spec"])
    script.inspect()
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    person.find(FIELD).send_keys("31 3/16")
    take_reading(
        script.job.pk, submission(tomas, script.job), TypedReading("brace_height", "6 5/8")
    )
    person.touches(css=".bar .act")
    person.sees("Someone else has worked on this job")
    person.sees("Tomas Reckert")
    assert person.find(FIELD).get_attribute("value") == "31 3/16"
    saves(person, "")
    person.sees("2 of 21 on record")


def test_a_stepper_offers_half_twists_in_words(person, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    script.came_in(cable_a=-0.07)
    script.baseline()
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    person.sees("One press.")
    person.types("o")
    Select(person.find("#steps-cable_b")).select_by_visible_text("half a twist out")
    person.touches(words="Do this instead")
    person.sees("In the press: UNDER LOAD")
