"""The first half of the job in a real browser: every family, the tools, sets, presses, photos."""

import pytest
from PIL import Image
from selenium.webdriver.support.ui import Select

from bowcore.stages.course import Progress
from shop.schema.accounts.models import Shop
from shop.schema.inspection.models import Photo
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import Reading
from shop.schema.press.models import PartCheck, PressCycle
from tests.journeys.work import ENTER, Work

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


def opened(person, script):
    """The job on the screen, where it is."""
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    return Work(person)


def test_a_hybrid_is_carried_over_one_part_at_a_time(person, script):
    script.check_in(["replace_string", "replace_cable_a", "replace_cable_b", "back_to_spec"],
                   model="Pilot 33")  # fmt: skip
    script.inspect()
    script.baseline()
    work = opened(person, script)
    person.sees("In this order")
    work.lengths = {"cable_b": "34 9/16"}
    work.goes_on(until="Chance that every")
    cycles = PressCycle.objects.order_by("seq").filter(purpose="replace")
    assert [c.parts for c in cycles] == [["cable_b"], ["cable_a"], ["string"]]
    assert {check.role for check in PartCheck.objects.all()} == {"cable_b", "cable_a", "string"}
    work.goes_on()
    assert not work.state().course.outside and not work.state().course.to_read


def test_a_single_cam_is_judged_by_its_mark_and_the_tug(person, script):
    script.check_in(["replace_cable_b", "back_to_spec"], model="Sarn 35", fitted=["peep"])
    script.inspect()
    script.baseline()
    work = opened(person, script)
    work.lengths = {"cable_b": "39 5/16"}
    work.goes_on(until="Which way does the mark move")
    work.tugs()
    check = PartCheck.objects.get()
    assert check.tug == "toward" and check.steps > 0 and "long" in check.summary
    person.sees("Before the next part goes on")
    work.goes_on()
    work.hands_over()


def test_the_wrong_press_refuses_a_bow_beyond_parallel(person, script):
    script.check_in(["replace_cable_a", "back_to_spec"], model="Heron 29", path="new_setup")
    script.inspect()
    script.baseline()
    script.have_parts()
    person.logs_in()
    person.goes("/shop/")
    Select(person.find("#id_press")).select_by_visible_text("limb belly")
    person.touches(css=".bar .act")
    person.wait(lambda d: Shop.objects.get().press == "limb belly")
    person.goes(f"/jobs/{script.job.pk}/")
    person.sees("they slip out")
    assert not person.all("button[form=open]")
    person.axe()
    person.goes("/shop/")
    Select(person.find("#id_press")).select_by_visible_text("limb tip")
    person.touches(css=".bar .act")
    person.wait(lambda d: Shop.objects.get().press == "limb tip")
    person.goes(f"/jobs/{script.job.pk}/")
    Work(person).does(lambda: person.types(ENTER))
    person.sees("In the press: UNDER LOAD")


def test_a_part_of_the_wrong_length_goes_back_and_a_new_one_comes(person, script):
    script.check_in(["replace_cable_a", "back_to_spec"])
    script.inspect()
    script.baseline()
    work = opened(person, script)
    work.lengths = {"cable_a": "35 5/16"}
    work.goes_on(until="Send the order")
    person.sees("is the wrong length")
    person.axe()
    work.does(lambda: person.find("#maker").send_keys("Ferrand Cordage", ENTER))
    person.sees("Measure it before it goes on")
    person.axe()
    work.does(lambda: person.touches(css=".bar .act"))  # as the tape on the bench has it
    person.sees("The set is here")
    person.types(ENTER)
    person.sees("take the old one off")
    work.goes_on(until="Which way does the mark move")
    assert len(PressCycle.objects.all()) == 2
    work.tugs()
    states = {s.step.key: s.progress for s in work.state().course.steps}
    assert states["replace"] is Progress.DONE


def takes_all(person, work):
    """One key a line, and the tool's number is down; what has no tool is typed."""
    names = [one.get_attribute("data-line") for one in person.all("#entry .line")]
    for number, name in enumerate(names, 1):
        if person.all("#entry .line.open template"):
            person.sees("Enter takes it")
            person.types(ENTER)
        else:
            work.type_line(work.bow(), name)
        if number < len(names):
            person.wait(lambda d, name=name: work.asked() != name, words="the next line")


def test_a_baseline_by_keyboard_with_the_tools_taking_the_numbers(person, script):
    script.check_in(["back_to_spec"], fitted=["peep"], path="new_setup")
    script.inspect()
    work = opened(person, script)
    while work.asked():
        work.does(lambda: takes_all(person, work))
    taken = Reading.objects.exclude(device="")
    assert {r.quantity for r in taken} == {"brace_height", "peak_weight", "holding_weight",
                                           "stop_gap", "nock_to_peep", "draw_length"}  # fmt: skip
    assert taken.filter(quantity="peak_weight").count() in (2, 3)  # two that agree are enough
    work.goes_on(until="Chance that every", most=6)
    assert not work.state().course.unread


def test_an_unplugged_scale_is_said_so_and_the_hand_goes_on(person, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    person.logs_in()
    person.goes("/jobs/tools/")
    person.axe()
    person.touches(words="unplugged")
    person.touches(words="Set it")
    person.goes(f"/jobs/{script.job.pk}/baseline/?at=peak_weight")
    person.sees("plugged in")
    work = Work(person)
    work.field().send_keys("59.5")
    work.does(lambda: person.touches(css=".bar .act"))
    assert Reading.objects.get().device == ""


def test_what_is_no_photo_is_refused_and_a_photo_stays(person, script, tmp_path):
    script.check_in(["back_to_spec"])
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/inspection/")
    wrong, right = tmp_path / "limb.jpg", tmp_path / "..limb.png"
    wrong.write_text("<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>")
    Image.new("RGB", (300, 200), (90, 120, 60)).save(right)
    place = "#place-limbs_top input[type=file]"
    watch = "#place-limbs_top input[value=watch]"
    person.driver.execute_script("arguments[0].click()", person.find(watch))
    person.find(place).send_keys(str(wrong))
    person.sees("not a photo")
    person.find(place).send_keys(str(right))
    person.wait(lambda d: Photo.objects.count() == 1)
    shown = person.find("#place-limbs_top .photos img")
    person.wait(lambda d: d.execute_script("return arguments[0].naturalWidth", shown) == 300)
    assert person.find(watch).is_selected()  # what was touched before is still touched
    assert Job.objects.get().version == 2
