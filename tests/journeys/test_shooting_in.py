"""Shooting in beyond the paper, in a real browser: butt, photo, chronograph, arrow, stabiliser."""

import pytest
from PIL import Image, ImageDraw
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from bowcore.accessories.on_the_bow import ARROW
from bowcore.work_order.services import SHOOT_IN
from shop.demo.scenes import OWN_ARROW
from shop.schema.press.models import Adjustment
from shop.schema.tuning.models import FlatSheet, ShotFired
from tests.journeys.work import Work

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]
DRIFT = tuple((yards, (yards - 16) / 8) for yards in (20, 20, 25, 25, 30, 30, 35, 35, 40, 40))


def at(person, script, page):
    script.check_in([SHOOT_IN])
    script.inspect()
    script.baseline()
    script.back_to_spec()
    script.on_the_bow("arrow", **OWN_ARROW)
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/{page}/")
    return Work(person)


def taps(person, wide, *places):
    """Tap places on the sheet that is open, right and up from its middle; it is so wide in their unit."""
    sheet = person.find("[data-sheet]")
    person.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", sheet)
    scale = sheet.rect["width"] / wide
    for right, up in places:
        ActionChains(person.driver).move_to_element_with_offset(
            sheet, round(right * scale), round(-up * scale)
        ).click().perform()


def fills(person, **values):
    for name, text in values.items():
        field = person.find(f"[name={name}]")
        field.clear()
        field.send_keys(text)


def test_a_walk_back_is_tapped_on_a_tablet_and_moves_the_rest(person, script):
    person.size(768, 1024)
    work = at(person, script, "butt")
    person.touches(words="Walk-back")
    person.sees("One sight mark")
    for yards, right in DRIFT:
        fills(person, distance=str(yards))
        taps(person, 24, (right, 0.5))
        work.does(lambda: person.touches(words="Save the shot"))
    assert [row.distance_yd for row in ShotFired.objects.order_by("pk")] == [yd for yd, _ in DRIFT]
    person.sees("Move the rest")
    person.axe()
    work.does(lambda: person.touches(words="The rest is moved"))
    assert Adjustment.objects.get(adjuster="rest_out").steps
    person.sees("Shoot on")
    assert person.console() == []


def test_a_photo_is_laid_flat_and_its_tear_is_tapped(person, script, tmp_path):
    work = at(person, script, "paper")
    picture = Image.new("RGB", (640, 480), "dimgrey")
    ImageDraw.Draw(picture).polygon([(120, 80), (520, 100), (540, 420), (90, 400)], fill="white")
    picture.save(tmp_path / "sheet.jpg")
    person.touches(words="Photo under the grid")
    person.find("input[type=file]").send_keys(str(tmp_path / "sheet.jpg"))
    work.does(lambda: person.touches(words="Take it"))
    person.sees("Tap the four corners of the sheet")
    tapped = [(-200, 160), (200, 140), (220, -180), (-230, -160), (0, 0)]
    taps(person, 640, *tapped)
    person.axe()
    work.does(lambda: person.touches(words="Lay it flat"))
    sheet = FlatSheet.objects.get()
    off = [tap - corner for tap, corner in zip(sheet.corners[0], (120, 80), strict=True)]
    assert max(map(abs, off)) < 8, off  # the first tap lands where the finger is
    person.wait(lambda d: person.find(".paper-sheet image"), words="the photo")
    taps(person, 6, (0, 0), (-0.25, 0.5))
    work.does(lambda: person.touches(words="Save the shot"))
    assert ShotFired.objects.get().sheet == sheet
    assert person.console() == []


def test_speeds_are_typed_one_after_another_by_keyboard(person, script):
    work = at(person, script, "speed")
    for speed in ("261", "262", "261"):
        fills(person, text=speed)
        work.does(lambda: person.types(Keys.ENTER))
    person.sees("That is a good string")
    for speed in ("237", "238", "237"):
        fills(person, text=speed, arrow="Heavy", mass="512")
        work.does(lambda: person.types(Keys.ENTER))
    person.sees("of the bow move with the arrow")
    person.axe()
    assert person.console() == []


def test_an_arrow_is_put_together_weighed_as_a_set_and_the_stabiliser_is_tried(person, script):
    work = at(person, script, "arrow")
    fills(person, draw_length="28 1/2", shaft_gr_per_in="8.6", point="125", insert="20")
    person.sees("Cut it to")
    person.axe()
    work.does(lambda: person.touches(words="Set the bow up for it"))
    assert script.state().on_bow.of(ARROW)["point_gr"] == 125
    person.touches(words="Weigh a set")
    person.sees("A set of arrows")
    for at_row, mass in enumerate((401, 400, 400.5, 399.8, 400.2, 400.4, 407)):
        fills(person, **{f"arrows-{at_row}-mass": str(mass)})
    fills(person, name="Spring dozen")
    person.axe()
    work.does(lambda: person.touches(words="Sort them"))
    person.sees("Shoot together: 1, 2, 3, 4, 5, 6")
    person.goes(f"/jobs/{work.job_id}/stabiliser/")
    person.touches(words="dips")
    person.touches(css="label:has(input[name=rating][value='2'])")
    person.axe()
    work.does(lambda: person.touches(words="Save the hold"))
    person.sees("An ounce less in front")
    assert person.console() == []


@pytest.mark.parametrize("page", ["butt", "speed", "arrow", "arrow/set", "stabiliser", "paper"])
def test_every_page_is_clean_in_the_dim_shop(person, script, page):
    at(person, script, page)
    person.driver.execute_script("document.documentElement.dataset.bsTheme = 'dark'")
    person.axe()
    wide = person.driver.execute_script("return document.documentElement.scrollWidth")
    assert wide <= 1280 and person.console() == []
