"""Figures on readers' pages: with u and unit, in gf and in N as the reader chooses."""

from __future__ import annotations

from typing import Any

from django import template
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from spindle_core.figures.said import figure
from spindle_core.publish.quotes import LABELS

register = template.Library()

GF_IN_N = 9.80665e-3
"""Standard gravity, exact."""

IN_NEWTONS = {"gf": (GF_IN_N, "N"), "gf/W": (1000.0 * GF_IN_N, "mN/W")}


def both(value: float, u: float | None, unit: str, *, signed: bool = False) -> SafeString:
    """A figure; of a thrust in both units, of which the page shows one."""
    text = figure(value, u, unit, signed=signed)
    if unit not in IN_NEWTONS:
        return format_html("{}", text)
    factor, other = IN_NEWTONS[unit]
    newton = figure(value * factor, None if u is None else u * factor, other, signed=signed)
    return format_html('<span class="gf">{}</span><span class="newton">{}</span>', text, newton)


@register.simple_tag
def quantity(value: float | None, u: float | None, unit: str, reason: str = "") -> SafeString:
    """A figure with its unit; a dash with the reason where there is none."""
    if value is None:
        return format_html('<span class="absent" title="{}">—</span>', reason or "not measured")
    return both(value, u, unit)


@register.simple_tag
def cell(one: dict[str, Any]) -> SafeString:
    """A named figure of a table, without its unit: that stands in the head."""
    if one["value"] is None:
        reason = one.get("reason") or "not measured"
        return format_html('<span class="absent" title="{}">—</span>', reason)
    return _unitless(one["value"], one["u"], LABELS.get(one["name"], ("", ""))[1])


def _unitless(value: float, u: float | None, unit: str) -> SafeString:
    text = figure(value, u, "")
    if unit not in IN_NEWTONS:
        return format_html("{}", text)
    factor, _ = IN_NEWTONS[unit]
    newton = figure(value * factor, None if u is None else u * factor, "")
    return format_html('<span class="gf">{}</span><span class="newton">{}</span>', text, newton)


@register.simple_tag
def head(name: str) -> SafeString:
    """A column's head with its unit."""
    label, unit = LABELS.get(name, (name, ""))
    if unit in IN_NEWTONS:
        return format_html(
            '{}, <span class="gf">{}</span><span class="newton">{}</span>',
            label,
            unit,
            IN_NEWTONS[unit][1],
        )
    return format_html("{}{}", label, f", {unit}" if unit else "")


@register.simple_tag
def measure_head(one: dict[str, Any]) -> SafeString:
    """The head of a criterion's column, with its unit and at what it is read."""
    if one["unit"] in IN_NEWTONS:
        unit = format_html(
            ', <span class="gf">{}</span><span class="newton">{}</span>',
            one["unit"],
            IN_NEWTONS[one["unit"]][1],
        )
    else:
        unit = format_html("{}", f", {one['unit']}" if one["unit"] else "")
    return format_html("{}{}", one["label"], unit)


@register.simple_tag
def measure_cell(one: dict[str, Any], weighed: list[dict[str, Any]], at: int) -> SafeString:
    """A criterion's figure without its unit: that stands in the head; what it rests on on
    demand."""
    if one["value"] is None:
        return format_html('<span class="absent" title="{}">—</span>', one["reason"])
    rests = f"n = {one['runs']}, samples: {one['samples']}" if one["runs"] else ""
    if one["estimated"]:
        rests = "estimated from its runs on other propellers"
    shown = _unitless(one["value"], one["u"], weighed[at]["unit"])
    return format_html('<span title="{}">{}</span>', rests, shown) if rests else shown


@register.simple_tag
def motor_link(row: dict[str, Any], pages: dict[int, str], up: str) -> SafeString:
    """A motor's name; its page behind it where it has one."""
    path = pages.get(row["motor"])
    if path is None:
        return format_html("{}", row["name"])
    return format_html('<a href="{}{}/index.html">{}</a>', up, path, row["name"])


STRIP_PX = (132, 22)


@register.simple_tag
def places(row: dict[str, Any]) -> SafeString:
    """How probable each place is: a bar per place, and the interval in words."""
    if not row["places"]:
        return format_html('<span class="absent" title="{}">—</span>', row["why_unranked"])
    width, height = STRIP_PX
    step = width / len(row["places"])
    bars = format_html_join(
        "",
        '<rect x="{}" y="{}" width="{}" height="{}"/>',
        (
            (
                f"{at * step:.1f}",
                f"{height - share * height:.1f}",
                f"{max(1.0, step - 2):.1f}",
                f"{max(1.5, share * height):.1f}",
            )
            for at, share in enumerate(row["places"])
            if share > 0
        ),
    )
    alike = row["from"] == row["to"]
    words = f"place {row['from']}" if alike else f"places {row['from']} to {row['to']}"
    return format_html(
        '<svg class="strip" viewBox="0 0 {} {}" width="{}" height="{}" fill="#a6501f" '
        'aria-hidden="true"><path d="M0 {}H{}" stroke="#d8d1c3"/>{}</svg><br>'
        '<span class="small">{}</span>',
        width,
        height + 1,
        width,
        height + 1,
        height + 0.5,
        width,
        bars,
        words,
    )


@register.simple_tag
def quoted(figures: dict[str, Any], key: str) -> SafeString:
    """A figure where it stands in prose; what it is on demand."""
    one = figures.get(key)
    if one is None:
        return format_html("—")
    rests = f"{one['words']}, n = {one['n']}" if one["n"] else one["words"]
    if one["kind"] == "record" or one["value"] is None:
        return format_html("{}", one["stated"])
    if one["kind"] == "claim":
        text: str = one["stated"]
        return format_html('<span class="quoted" title="{}">{}</span>', rests, text)
    signed = one["kind"] in ("delta", "subject_delta")
    shown = both(one["value"], one["u"], one["unit"], signed=signed)
    moved = (
        format_html(' <span class="moved">(since then {}; {})</span>', one["now"], one["word"])
        if one["word"]
        else ""
    )
    return format_html('<span class="quoted" title="{}">{}</span>{}', rests, shown, moved)
