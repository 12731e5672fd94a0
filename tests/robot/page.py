"""A page as the robot sees it: its forms with their buttons, its links, the one next act."""

from dataclasses import dataclass, field
from urllib.parse import urljoin, urlsplit

from django.urls import Resolver404, resolve
from lxml import html

NOT_TYPED = frozenset({"csrfmiddlewaretoken", "key", "seen"})


@dataclass
class Form:
    """A form of a page: where it posts to, and its fields as they stand."""

    element: html.FormElement
    action: str

    @property
    def name(self):
        """The name of its address."""
        return name_of(self.action)

    @property
    def id(self):
        return self.element.get("id", "")

    def values(self):
        """What a browser would post, by name, each a list."""
        found = {}
        for name, value in self.element.form_values():
            found.setdefault(name, []).append(value)
        return found

    def value(self, name):
        return (self.values().get(name) or [""])[0]

    @property
    def names(self):
        """Names of all fields that can be typed or chosen."""
        return {one.get("name") for one in self.element.inputs if one.get("name")} - NOT_TYPED

    def options(self, name):
        """Values that can be chosen for a field of radio buttons, boxes or a list."""
        path = f".//input[@name='{name}'][@type='radio' or @type='checkbox']"
        boxes = [one.get("value", "on") for one in self.element.xpath(path)]
        lists = self.element.xpath(f".//select[@name='{name}']/option")
        return boxes + [one.get("value", one.text_content().strip()) for one in lists]

    @property
    def free(self):
        """Names of the fields that take any text."""
        path = (
            ".//textarea | .//input[not(@type) or @type='text' or @type='number' or @type='date']"
        )
        return [one.get("name") for one in self.element.xpath(path) if one.get("name")]


@dataclass
class Act:
    """Something that can be done on a page: a link followed, or a form posted by one of its buttons."""

    words: str
    href: str = ""
    form: Form | None = None
    button: tuple[str, str] | None = None
    main: bool = False
    answer: bool = False
    """One of several answers of equal rank to what the page asks."""

    @property
    def what(self):
        """The address's name that it leads to."""
        return self.form.name if self.form else name_of(self.href)


@dataclass
class Page:
    """A page that was answered."""

    address: str
    status: int
    document: html.HtmlElement
    acts: list[Act] = field(default_factory=list)

    @property
    def main(self):
        return next((one for one in self.acts if one.main), None)

    @property
    def answers(self):
        return [one for one in self.acts if one.answer]

    @property
    def headline(self):
        found = self.document.xpath("//main//h1")
        return " ".join(found[0].text_content().split()) if found else ""

    @property
    def text(self):
        found = self.document.xpath("//*[@id='screen']") or [self.document]
        return " ".join(found[0].text_content().split())

    @property
    def errors(self):
        """Refusals in words."""
        found = self.document.xpath("//*[@role='alert']")
        return [" ".join(one.text_content().split()) for one in found]

    @property
    def version(self):
        found = self.document.xpath("//*[@data-version]/@data-version")
        return int(found[0]) if found else None

    @property
    def forms(self):
        """Every form that posts."""
        return [
            Form(one, urljoin(self.address, one.get("action", "")))
            for one in self.document.forms
            if one.get("method", "").lower() == "post" and one.xpath(".//input[@name='key']")
        ]

    def form(self, name):
        """The form that posts to an address of that name, or None."""
        return next((one for one in self.forms if one.name == name), None)


def read_page(response, address):
    """The page of a response; one without HTML has no acts."""
    content = response.content or b"<html></html>"
    document = html.document_fromstring(content.decode(errors="replace"), base_url=address)
    page = Page(address, response.status_code, document)
    page.acts = [*_buttons(page), *_links(page)]
    return page


def _buttons(page):
    forms = page.forms
    by_id = {one.id: one for one in forms if one.id}
    by_element = {id(one.element): one for one in forms}
    for button in page.document.xpath("//button[not(@type='button')] | //input[@type='submit']"):
        owner = by_id.get(button.get("form")) if button.get("form") else None
        if not button.get("form"):
            around = next(button.iterancestors("form"), None)
            owner = by_element.get(id(around))
        if owner is None:
            continue
        if button.get("formaction"):
            owner = Form(owner.element, urljoin(page.address, button.get("formaction")))
        named = (button.get("name"), button.get("value", "")) if button.get("name") else None
        words = " ".join(button.text_content().replace("Enter", "").split())
        rank = {"main": "data-next" in button.attrib, "answer": "data-answer" in button.attrib}
        yield Act(words, form=owner, button=named, **rank)


def _links(page):
    for link in page.document.xpath("//*[@id='screen']//a[@href]"):
        words = " ".join(link.text_content().replace("Enter", "").split())
        href = urljoin(page.address, link.get("href"))
        yield Act(words, href=href, main="data-next" in link.attrib)


def name_of(address):
    """The name of an address in the application, "" for others."""
    try:
        return resolve(urlsplit(address).path).url_name or ""
    except Resolver404:
        return ""
