"""What must hold after every act, whoever did it."""

import re

from bowcore.quantities.catalogue import QUANTITIES
from shop.schema.measurements.models import LeftOnPurpose, MarkEntry, Reading
from shop.schema.press.models import Adjustment
from shop.schema.tuning.models import ShotFired, SuspectLookedAt
from tests.robot.story import Broken

MOST_ALIKE = 6
"""So often in a row a quantity may be asked for, nothing else being done."""
REOPENS = frozenset({
    "turn", "turn_without_press", "swap", "note_change", "correct", "change_order", "take_back", "lift_hold",
    "inspect", "do_fit_act", "paper_tap", "butt_tap", "log_done", "draw_in", "part_not_on", "choose_policy",
    "leave_it", "correct_change", "write_thing", "name_arrow", "measure_cam", "order_set", "change_module",
    "write_mark", "choose_replacement", "send_back", "add_part", "check_part", "write_shot",
    "look_at_suspect", "bring_home",
})  # fmt: skip
"""Acts after which a step that was done may be open again."""


def check_page(page, before):
    """Rules of a page by itself."""
    if page.status >= 500:
        yield Broken("no page fails", f"{page.status} at {page.address}")
    if page.version is not None and page.main is None and not page.answers and page.status == 200:
        yield Broken("every page of a job has one next act", page.address)
    if page.status == 200 and re.search(r"\bNone\b|\bnan\b|“”|\.\.(?!\.)", page.text):
        found = re.search(r".{0,60}(\bNone\b|\bnan\b|“”|\.\.(?!\.)).{0,40}", page.text)
        yield Broken("nothing unfinished is shown", f"{page.address}: {found.group(0)}")


def check_never_read(page, job_id):
    """Nothing is said to be unread that was read."""
    for name in re.findall(r"([A-Z][\w ,’'-]*?) was never read\.", page.text):
        name = name.rsplit(". ", 1)[-1].strip()
        keys = [
            key
            for key, one in QUANTITIES.items()
            if name in (one.name, one.one_cam and one.one_cam.name)
        ]
        if Reading.objects.filter(job=job_id, quantity__in=keys, value__isnull=False).exists():
            yield Broken("what was read is not called unread", name)


def check_steps(done, done_before, act, half_read):
    """A step that was done stays done unless something was changed, or a reading was begun that takes more
    than one take: back to spec waits for the others, and the fit for back to spec."""
    again = done_before - done - {"set"} - ({"back_to_spec", "fit"} if half_read else set())
    if again and act is not None and act.what not in REOPENS:
        yield Broken(
            "a step that is done stays done", f"{', '.join(sorted(again))} after {act.what}"
        )


def check_recorded(act, posted, job_id):
    """What was posted and accepted is what stands in the record."""
    check = _RECORDED.get(act.what)
    if check is not None:
        yield from check(act, posted, job_id)


def _readings(act, posted, job_id):
    seq = Reading.objects.filter(job=job_id).latest("pk").seq
    rows = {row.quantity: row for row in Reading.objects.filter(job=job_id, seq=seq)}
    said = {key for key in posted["line"] if any(_posted(posted, key, n) for n in _TYPED)}
    if set(rows) != said:
        yield Broken("what is posted is recorded", f"{', '.join(rows)} for {', '.join(said)}")
    for key in said & set(rows):
        text = _posted(posted, key, "text")
        if text and text.split()[-1] not in rows[key].raw:
            yield Broken("what is posted is recorded", f"{key}: “{rows[key].raw}” for “{text}”")


def _posted(posted, key, name):
    return (posted.get(f"{key}-{name}") or [""])[0]


_TYPED = ("text", "other", "direction")


def _suspect(act, posted, job_id):
    row = SuspectLookedAt.objects.filter(job=job_id).latest("pk")
    said = (bool(posted.get("found")), bool(posted.get("mended")))
    if (row.found, row.mended) != said or row.suspect != posted["suspect"][0]:
        yield Broken(
            "what is posted is recorded", f"{row.suspect} {row.found} {row.mended} for {said}"
        )


def _mark(act, posted, job_id):
    row = MarkEntry.objects.filter(job=job_id).latest("pk")
    if row.mark != posted["mark"][0]:
        yield Broken("what is posted is recorded", f"{row.mark} for {posted['mark'][0]}")


def _steps(act, posted, job_id):
    last = Adjustment.objects.filter(job=job_id).latest("pk").seq
    rows = Adjustment.objects.filter(job=job_id, seq=last)
    recorded = {row.adjuster: row.steps for row in rows if row.steps}
    names = [name.removesuffix("-adjuster") for name in posted if name.endswith("-adjuster")]
    said = {posted[f"{n}-adjuster"][0]: int(posted[f"{n}-steps"][0]) for n in names}
    said = {key: steps for key, steps in said.items() if steps}
    if recorded != said:
        yield Broken("what is posted is recorded", f"{recorded} for {said}")


def _left(act, posted, job_id):
    row = LeftOnPurpose.objects.filter(job=job_id).latest("pk")
    if row.quantity not in posted["quantity"]:
        yield Broken("what is posted is recorded", f"{row.quantity} for {posted['quantity']}")


def _shot(act, posted, job_id):
    row = ShotFired.objects.filter(job=job_id).latest("pk")
    wanted = float(posted["nock_x"][0]) - float(posted["point_x"][0])
    if abs(row.x_in - wanted) > 1e-6:
        yield Broken("what is posted is recorded", f"a tear of {row.x_in} for {wanted}")


_RECORDED = {
    "take_readings": _readings, "look_at_suspect": _suspect, "write_mark": _mark, "turn": _steps,
    "turn_without_press": _steps, "leave_it": _left, "write_shot": _shot,
}  # fmt: skip


def check_act_is_possible(act, page):
    """What a link names is there where it leads to: its field is on the page."""
    from tests.robot.answers import asked_at

    wanted = asked_at(act.href) if act.href else ""
    if not wanted or page.status != 200:
        return
    fields = [form.value("quantity") or form.value("mark") for form in page.forms]
    fields += [key for form in page.forms for key in form.values().get("line", ())]
    if wanted not in fields:
        yield Broken("what an act names can be done where it leads to", f"{wanted} at {act.href}")


def check_plan(page):
    """Headline and steps of a plan name the same part."""
    form = page.form("accept_plan") or page.form("turn_without_press")
    if form is None or form.id != "accept" or page.main is None or page.main.form is None:
        return
    if page.main.form.id != "accept":
        return
    keys = [value[0] for name, value in form.values().items() if name.endswith("-adjuster")]
    labels = {
        one.get("id", "").removeprefix("steps-"): one.getparent() for one in
        page.document.xpath("//select[starts-with(@id, 'steps-')]")
    }  # fmt: skip
    said = page.headline.lower()
    for key in keys if len(keys) == 1 else []:
        if key not in labels:
            continue
        label = labels[key].xpath(".//strong")[0].text_content().strip().lower()
        if label not in said:
            yield Broken(
                "headline and steps name the same part", f"“{page.headline}” turns {label}"
            )
