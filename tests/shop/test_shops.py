"""Several shops in one installation: no address, list or field shows one the rows of another."""

import uuid
from contextvars import Context

import pytest
from django.core.management import call_command
from django.test import Client
from django.urls import get_resolver, reverse
from django.utils import timezone

from bowcore.errors import Refused
from bowcore.stages.course import STEPS
from shop.accounts.actions import new_shop
from shop.casework.engine.pooling import pooled_prior
from shop.casework.engine.priors import book_prior
from shop.casework.screens import state_or_404
from shop.casework.submissions import Submission
from shop.demo.saltgate import fill
from shop.people import actions
from shop.rack.actions.move_bow import move_bow
from shop.schema.accounts.models import Member, Membership, Shop
from shop.schema.audit.models import Event
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.schema.jobs.models import Job
from shop.schema.tenancy.here import working_for
from shop.setup.invariants import broken_rules
from shop.stages.check_in.forms import CheckInForm
from shop.stages.replace.actions.cycle import _require_second_eyes
from tests.shop.test_hostile import POSTS, _patterns, fields_of


@pytest.fixture
def north(floor):
    """A second shop of the chain with a manager of its own."""
    shop = new_shop("Saltgate North")
    una = Member.objects.create_user("una", password="north-bench-1", first_name="Una")
    Membership.objects.create(member=una, shop=shop, role="manager")
    return shop


@pytest.fixture
def una(north):
    client = Client()
    client.force_login(Member.objects.get(username="una"))
    return client


@pytest.fixture
def elsewhere(script):
    """A job with readings, a photo's place, a set and an open press, in the first shop."""
    script.check_in(["replace_string", "replace_cable_a", "back_to_spec"], tag="blue riser")
    script.inspect()
    script.baseline()
    script.order_set()
    return script.job


def ids_of(job):
    return {
        "job_id": job.pk, "bow_id": job.bow_id, "customer_id": job.bow.customer_id,
        "reading_id": job.reading_set.first().pk, "member_id": job.opened_by_id, "hold_id": 1,
        "adjustment_id": 1, "photo_id": 1, "sheet_id": 1, "set_id": job.sets.first().pk,
        "step": STEPS[2].key, "quantity": "axle_to_axle", "form": "csv",
    }  # fmt: skip


def addresses(job):
    """Every address with an id of this job, its bow or its customer in it."""
    known = ids_of(job)
    for pattern in _patterns(get_resolver().url_patterns):
        wants = list(pattern.pattern.converters)
        if (
            pattern.name != "book_export" and wants and "entry_id" not in wants
        ):  # the book is shared
            yield pattern.name, reverse(pattern.name, kwargs={w: known[w] for w in wants})


def test_no_address_opens_another_shops_rows(una, page, elsewhere):
    walked = list(addresses(elsewhere))
    assert len(walked) > 40
    for name, address in walked:
        answer = una.get(address)
        assert answer.status_code in (404, 405), (name, answer.status_code)
    assert page.get(reverse("job", args=[elsewhere.pk])).status_code in (200, 302)


def test_no_post_changes_another_shops_rows(una, elsewhere):
    before, known = Event.objects.count(), ids_of(elsewhere)
    for name, view, wants in POSTS:
        if not set(wants) & {"job_id", "bow_id", "customer_id", "member_id"}:
            continue
        data = dict.fromkeys(fields_of(view.form_class), "1")
        data |= {"key": uuid.uuid4(), "seen": Job.objects.get(pk=elsewhere.pk).version}
        answer = una.post(reverse(name, kwargs={w: known[w] for w in wants}), data)
        assert answer.status_code in (404, 422), (name, answer.status_code)
        assert "Okafor" not in answer.content.decode(), name
    assert Event.objects.count() == before


def test_no_list_names_another_shops_customers_or_people(una, elsewhere):
    for name, query in (
        ("rack", ""), ("find", "?q=okafor"), ("find", f"?q={elsewhere.pk}"), ("find", "?q=blue"),
        ("sets", ""), ("people", ""), ("who_did_what", ""), ("who_did_what", "?as=csv"),
        ("check_in", f"?bow={elsewhere.bow_id}"), ("check_in", f"?customer={elsewhere.bow.customer_id}"),
    ):  # fmt: skip
        answer = una.get(reverse(name) + query)
        body = b"".join(answer) if answer.streaming else answer.content
        seen = body.decode()
        assert answer.status_code == 200, name
        assert "Okafor" not in seen and "Ines" not in seen and "blue riser" not in seen, (
            name,
            query,
        )


def test_a_form_takes_no_row_of_another_shop(north, elsewhere):
    posted = {"bow": elsewhere.bow_id, "customer": elsewhere.bow.customer_id}
    with north.during():
        assert {"bow", "customer"} <= set(CheckInForm(posted).errors)
    with Shop.objects.first().during():
        assert not {"bow", "customer"} & set(CheckInForm(posted).errors)


def test_where_no_shop_is_set_no_rows_are_seen(script):
    script.check_in(["back_to_spec"])
    assert Job.objects.count() == 1
    nowhere = Context()  # as in a thread that nobody has told its shop
    assert nowhere.run(Job.objects.count) == 0 and nowhere.run(Customer.objects.count) == 0


def test_every_query_of_a_shop_begins_with_its_rows(north, elsewhere):
    with working_for(north.pk):
        assert not Job.objects.exists() and not Bow.objects.exists()
        assert not elsewhere.reading_set.exists()
    assert elsewhere.reading_set.exists()


def test_somebody_of_two_shops_goes_from_one_to_the_other(page, ines, north, elsewhere):
    held = Membership.objects.create(member=ines, shop=north, role="apprentice")
    page.force_login(ines)
    assert "Okafor" in page.get(reverse("rack")).content.decode()
    page.post(reverse("at_shop"), {"shop": north.pk})
    body = page.get(reverse("rack")).content.decode()
    assert "Okafor" not in body and "Go to Saltgate Range" in body
    assert page.get(reverse("who_did_what")).status_code == 403  # an apprentice there
    held.delete()
    assert "Okafor" in page.get(reverse("rack")).content.decode()


def test_who_works_in_no_shop_sees_a_page_that_says_so(una, north):
    Membership.objects.all().delete()
    answer = una.get(reverse("rack"))
    assert answer.status_code == 403 and "no shop" in answer.content.decode()
    assert una.post(reverse("logout")).status_code == 302


def test_nobody_goes_to_a_shop_that_is_not_theirs(una, elsewhere):
    una.post(reverse("at_shop"), {"shop": elsewhere.shop_id})
    una.post(reverse("at_shop"), {"shop": "x"})
    assert una.get(reverse("job", args=[elsewhere.pk])).status_code == 404


def test_a_manager_does_not_take_over_a_login_by_letting_it_in(una, north, tomas):
    post = {"key": uuid.uuid4(), "seen": 0, "username": "tomas", "role": "technician"}
    assert una.post(reverse("take_on"), post).status_code == 302
    assert "asked" in una.get(reverse("people")).content.decode()
    for act in ("let_in", "change_role", "reset_password", "forget_second_step"):
        assert ask(una, act, tomas, role="manager").status_code == 422
    agrees(tomas, north)
    kept = tomas.password
    answer = ask(una, "reset_password", tomas)
    assert answer.status_code == 422 and "belongs to Saltgate Range" in answer.content.decode()
    assert ask(una, "forget_second_step", tomas).status_code == 422
    tomas.refresh_from_db()
    assert tomas.password == kept
    ask(una, "set_active", tomas)
    tomas.refresh_from_db()
    assert tomas.is_active and tomas.memberships.filter(active=True).count() == 1


def ask(client, name, member, **more):
    return client.post(reverse(name, args=[member.pk]), {"key": uuid.uuid4(), "seen": 0} | more)


def agrees(member, shop, answer="agree"):
    client = Client()
    client.force_login(member)
    assert f"{shop} asks" in client.get(reverse("rack")).content.decode()
    client.post(reverse("answer_shop"), {"shop": shop.pk, "answer": answer})
    return client


def take_on(client, name):
    post = {"key": uuid.uuid4(), "seen": 0, "username": name, "role": "technician"}
    assert client.post(reverse("take_on"), post).status_code == 302


def test_nobody_works_in_another_shop_without_having_agreed(una, north, tomas):
    take_on(una, "tomas")
    declined = agrees(tomas, north, "decline")
    declined.post(reverse("at_shop"), {"shop": north.pk})
    assert "Saltgate North" not in declined.get(reverse("rack")).content.decode()
    declined.post(reverse("answer_shop"), {"shop": north.pk, "answer": "agree"})  # was answered
    assert not tomas.memberships.get(shop=north).active
    take_on(una, "tomas")
    assert "Go to Saltgate North" in agrees(tomas, north).get(reverse("rack")).content.decode()
    with north.during():
        said = list(
            Event.objects.filter(verb="answer_shop", shop=north).values_list("summary", flat=True)
        )
    assert said == ["Tomas Reckert does not want to work here", "Tomas Reckert works here too"]


def test_the_home_shop_keeps_the_login_also_of_somebody_who_works_elsewhere(
    page, una, north, tomas
):
    take_on(una, "tomas")
    agrees(tomas, north)
    assert ask(page, "reset_password", tomas).status_code == 302
    assert ask(page, "set_active", tomas).status_code == 302
    tomas.refresh_from_db()
    assert tomas.home == north and tomas.is_active
    assert ask(una, "reset_password", tomas).status_code == 302
    assert (
        ask(page, "set_active", tomas, active="on").status_code == 302
    )  # is asked, not taken back
    assert not tomas.memberships.get(shop=tomas.memberships.exclude(shop=north).get().shop).active


def test_sending_away_ends_what_is_open_in_that_shop_alone(page, una, north, tomas):
    take_on(una, "tomas")
    there = agrees(tomas, north)
    there.post(reverse("at_shop"), {"shop": north.pk})
    here = Client()
    here.force_login(tomas)
    ask(una, "set_active", tomas)
    assert here.get(reverse("rack")).status_code == 200
    assert there.get(reverse("rack")).status_code == 302


def test_what_is_asked_can_be_withdrawn(una, north, tomas):
    post = {"key": uuid.uuid4(), "seen": 0, "username": "tomas", "role": "manager"}
    una.post(reverse("take_on"), post)
    ask(una, "set_active", tomas)
    assert not tomas.memberships.filter(asked=True).exists()


def test_taking_on_asks_for_a_known_login_once(una, north):
    def taken_on(name):
        post = {"key": uuid.uuid4(), "seen": 0, "username": name, "role": "technician"}
        return una.post(reverse("take_on"), post).status_code

    assert (taken_on("nobody"), taken_on("pia"), taken_on("pia")) == (422, 302, 422)


def test_a_bow_moves_with_its_history(page, una, ines, north, elsewhere):
    ask = {"key": uuid.uuid4(), "seen": 0, "shop": north.pk}
    moved = reverse("move_bow", args=[elsewhere.bow_id])
    answer = page.post(moved, ask)
    assert answer.status_code == 422 and "is open" in answer.content.decode()
    Job.objects.filter(pk=elsewhere.pk).update(cancelled_at=elsewhere.opened_at)
    assert page.post(moved, ask).status_code == 302
    assert page.get(reverse("bow_history", args=[elsewhere.bow_id])).status_code == 404
    body = una.get(reverse("bow_history", args=[elsewhere.bow_id])).content.decode()
    assert "R. Okafor" in body and f"Job {elsewhere.pk}" in body
    assert "R. Okafor" in una.get(reverse("find") + "?q=okafor").content.decode()
    assert "got R. Okafor" in una.get(reverse("who_did_what")).content.decode()
    assert "gave R. Okafor" in page.get(reverse("who_did_what")).content.decode()
    call_command("verify")


def test_a_technician_does_not_move_a_bow(tomas, north, elsewhere):
    with pytest.raises(Exception, match="manager"):
        move_bow(elsewhere.bow_id, north.pk, Submission(tomas, uuid.uuid4()))


def test_a_model_is_learned_across_shops_until_one_keeps_to_itself(north, script):
    """What the first shop's bow has shown changes what the other shop expects of the model."""
    script.check_in(["back_to_spec"])
    script.inspect()
    script.came_in(cable_a=0.1)
    script.baseline()
    script.follow_plan()
    Job.objects.filter(pk=script.job.pk).update(handed_over_at=timezone.now())
    with north.during():
        owner = Customer.objects.create(name="D. Brandt")
        bow = Bow.objects.create(customer=owner, entry=script.job.bow.entry, hand="right",
                                 marked_weight_lbf=60, marked_draw_in=28)  # fmt: skip
        now = Job.objects.create(bow=bow, promised_on=script.job.promised_on, spec=script.job.spec,
                                 opened_by=script.by)  # fmt: skip
    spec = state_or_404(now.pk).spec
    prior = book_prior(spec)
    assert pooled_prior(now, spec, prior) is not prior
    for one in Shop.objects.all():
        Shop.objects.filter(pk=one.pk).update(share_models=False)
        assert pooled_prior(Job.objects.get(pk=now.pk), spec, prior) is prior
        Shop.objects.filter(pk=one.pk).update(share_models=True)


def test_a_shop_is_opened_with_its_first_person(floor, capsys):
    call_command("create_user", "mara", shop="Quay Lane")
    mara = Member.objects.get(username="mara")
    assert mara.works_in[0].shop.name == "Quay Lane" and mara.works_in[0].role == "manager"
    with pytest.raises(Exception, match="--shop"):
        call_command("create_user", "nemo")


def test_the_last_manager_of_a_shop_stays_one(una, north):
    member = Member.objects.get(username="una")
    with pytest.raises(Exception, match="only manager"), north.during():
        actions.set_active(member.pk, False, Submission(member, uuid.uuid4()))


def test_the_demo_has_a_second_shop_with_its_own_bow(db):
    fill()
    first, north = Shop.objects.order_by("pk")
    with north.during():
        assert Job.objects.count() == 1 and Customer.objects.count() == 1
    with first.during():
        assert Job.objects.count() > 10
    assert not broken_rules()


def test_the_second_pair_of_eyes_works_in_this_shop(north, pia):
    stranger = Member.objects.get(username="una")
    with (
        Shop.objects.order_by("pk")[0].during(),
        pytest.raises(Refused, match="does not work in this shop"),
    ):
        _require_second_eyes(pia, stranger)
