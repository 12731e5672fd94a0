"""A few lines of help for writing SVG by hand, escaped and rounded."""

from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe


def element(name: str, content: str = "", **attributes: object) -> str:
    """One SVG element; `class_` becomes class, underscores become hyphens, floats are rounded."""
    parts = [name]
    for key, value in attributes.items():
        text = f"{value:.2f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)
        parts.append(f'{_name(key)}="{escape(text)}"')
    return f"<{' '.join(parts)}>{content}</{name}>"


def _name(key: str) -> str:
    return key if key == "viewBox" else key.rstrip("_").replace("_", "-")


def text(x: float, y: float, words: str, **attributes: object) -> str:
    return element("text", escape(words), x=x, y=y, **attributes)


def line(x1: float, y1: float, x2: float, y2: float, class_: str) -> str:
    return element("line", x1=x1, y1=y1, x2=x2, y2=y2, class_=class_)


def picture(
    width: int, height: int, label: str, class_: str, parts: list[str], role: str = "img"
) -> SafeString:
    """A whole drawing with its spoken description; its role is "group" if parts of it are links."""
    body = "".join(parts)
    frame = element(
        "svg",
        body,
        xmlns="http://www.w3.org/2000/svg",
        viewBox=f"0 0 {width} {height}",
        role=role,
        aria_label=label,
        class_=class_,
    )
    return mark_safe(frame)  # noqa: S308  every part above is escaped
