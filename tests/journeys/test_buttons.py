"""A small robot in the browser: every button of every step is pressed, and what it would post is looked at.

Nothing is sent, so that each page can be pressed through; what is recorded is minded by the robot over HTTP.
"""

import pytest

from bowcore.work_order.services import SHOOT_IN
from shop.demo.job_script import CABLE
from shop.demo.scenes import OWN_ARROW
from shop.schema.tuning.models import SuspectLookedAt
from shop.stages.replace.actions import cycle

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]
LISTEN = """
window.posted = null;
document.addEventListener("htmx:configRequest", (event) => {
  const fields = [...event.detail.formData.entries()].map(([name, value]) => [name, String(value)]);
  window.posted = {path: event.detail.path, fields};
  event.preventDefault();
});
"""
BUTTONS = """
return [...document.querySelectorAll("#work button, .bar button")]
  .filter((one) => one.type === "submit" && one.form && one.form.method === "post")
  .map((one, at) => {
    one.dataset.robot = at;
    const action = one.hasAttribute("formaction") ? one.formAction : one.form.action;
    return [at, one.name, one.value, action, one.innerText.trim()];
  });
"""
PRESS = """
window.posted = null;
const one = document.querySelector(`[data-robot="${arguments[0]}"]`);
one.closest("details")?.setAttribute("open", "");
one.click();
return window.posted;
"""


def pressed_through(person, path):
    """Press every button of a page; how many there were, and what each of them would have posted wrongly."""
    person.goes(path)
    person.wait(lambda d: d.execute_script("return Boolean(window.htmx)"))
    person.settles()
    person.driver.execute_script(LISTEN)
    buttons, wrong = person.driver.execute_script(BUTTONS), []
    for number, name, value, action, words in buttons:
        posted = person.driver.execute_script(PRESS, number)
        if posted is None:
            wrong.append(f"{path} “{words}” posts nothing")
            continue
        fields = {tuple(pair) for pair in posted["fields"]}
        if name and (name, value) not in fields:
            wrong.append(f"{path} “{words}” loses {name}={value}")
        if not action.endswith(posted["path"].replace(person.base, "")):
            wrong.append(f"{path} “{words}” posts to {posted['path']}, not to {action}")
        if not {"key", "seen"} <= {field for field, _ in fields}:
            wrong.append(f"{path} “{words}” posts without its key")
    return len(buttons), wrong


def at_the_paper(script):
    script.check_in([SHOOT_IN])
    script.inspect()
    script.baseline()
    script.on_the_bow("arrow", **OWN_ARROW)
    for x, y in ((0.0, 0.5), (0.0, 0.5)):
        script.shot(x, y)


def at_the_gate(script):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.have_parts()
    cycle.open_press_to_replace(script.job.pk, script.submission(), "cable_a")


def at_the_plan(script):
    script.check_in(["back_to_spec", "fit", "sight"])
    script.inspect()
    script.came_in(cable_a=0.08)
    script.baseline()
    script.read_until_sure()


@pytest.mark.parametrize("scene", [at_the_paper, at_the_gate, at_the_plan])
def test_every_button_posts_what_it_says(person, script, scene):
    scene(script)
    person.logs_in()
    pressed, wrong = 0, []
    for one in script.state().course.steps:
        count, lost = pressed_through(person, f"/jobs/{script.job.pk}/{one.step.key}/")
        pressed, wrong = pressed + count, wrong + lost
    assert not wrong and pressed >= 8, wrong


def test_found_is_recorded_as_found_and_not_found_as_not_found(person, script):
    at_the_paper(script)
    person.logs_in()
    for found in (True, False):
        person.goes(f"/jobs/{script.job.pk}/paper/")
        person.sees("Next at the paper")
        before = SuspectLookedAt.objects.count()
        buttons = person.all("button[form=looked-at]")
        named = {one.get_attribute("name") == "found": one for one in buttons}
        named[found].click()
        person.wait(lambda d, n=before: SuspectLookedAt.objects.count() > n, words="one more look")
        assert SuspectLookedAt.objects.latest("pk").found is found
