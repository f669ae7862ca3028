"""The match as files: a table, and one page to hand on."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from django.utils.html import escape

from spindle_core.figures.said import figure as in_words
from spindle_server.match.models import Craft
from spindle_server.papers import page_pdf

COLUMNS: tuple[tuple[str, str], ...] = (
    ("mass_g", "All-up mass (g)"),
    ("thrust_to_weight", "Thrust-to-weight, all motors"),
    ("max_thrust_gf", "Largest thrust of one motor (gf)"),
    ("throttle_pct", "Hover throttle (%)"),
    ("current_a", "Hover current of one motor (A)"),
    ("power_w", "Hover power of one motor (W)"),
    ("efficiency_g_per_w", "Hover gf/W"),
    ("minutes", "Minutes"),
    ("peak_current_a", "Peak current of one motor (A)"),
    ("pack_current_a", "Peak current of the pack (A)"),
    ("tip_mach", "Tip speed (of sound)"),
    ("margin_hover_k", "Winding below its ceiling in hover (K)"),
)


def table_of(found: dict[str, Any]) -> list[list[Any]]:
    """Heads and a row per candidate; each figure with its u beside it."""
    heads: list[Any] = ["Motor", "Propeller", "Measured or predicted", "On"]
    for _, head in COLUMNS:
        heads += [head, "u"]
    heads += ["ESC, next size (A)", "ESC, a fifth to spare (A)", "Picked as", "Not chosen because"]
    rows = [heads]
    for one in found["rows"]:
        row = [
            one["motor_name"],
            one["propeller_name"],
            "predicted" if one["predicted"] else "measured",
            one["load"],
        ]
        for name, _ in COLUMNS:
            row += [one[name]["value"], one[name]["u"]]
        row += [size["size_a"] for size in one["esc"]]
        row += [", ".join(one["picked"]), one["barred"]]
        rows.append(row)
    return rows


def _figure(one: dict[str, Any]) -> str:
    if one["value"] is None:
        return "—"
    tilde = "~" if one["origin"] == "estimated" else ""
    return f"{tilde}{in_words(one['value'], one['u'], '')}"


PAGE: tuple[tuple[str, str], ...] = (
    ("thrust_to_weight", "Thrust-to-weight"),
    ("throttle_pct", "Hover, %"),
    ("current_a", "Hover, A"),
    ("efficiency_g_per_w", "gf/W"),
    ("minutes", "Minutes"),
    ("peak_current_a", "Peak, A"),
)
MOST_ON_PAGE = 14


def page_of(craft: Craft, found: dict[str, Any]) -> bytes:
    """One page: the craft, the three picks with their trade, the table, and what was assumed."""
    items = "; ".join(
        f"{escape(i['name'])} {i.get('count', 1)} × {i['mass_g']:g} g ({_basis(i)})"
        for i in craft.items
    )
    rows = [one for one in found["rows"] if not one["barred"]][:MOST_ON_PAGE]
    head = "".join(f'<th class="num">{label}</th>' for _, label in PAGE)
    body = "".join(
        f"<tr><td>{escape(one['name'])}"
        f"{' <b>' + escape(', '.join(one['picked'])) + '</b>' if one['picked'] else ''}</td>"
        + "".join(
            f'<td class="num{" est" if one["predicted"] else ""}">{_figure(one[name])}</td>'
            for name, _ in PAGE
        )
        + f'<td class="num">{_esc(one)}</td></tr>'
        for one in rows
    )
    picks = found["picks"]
    said = f"<p>Nothing to choose: {escape(found['no_pick'])}.</p>"
    if picks:
        chosen, strongest, thriftiest, trade = (
            escape(picks[which]) for which in ("chosen", "strongest", "thriftiest", "trade")
        )
        against = "" if chosen == strongest else f" against the strongest, {strongest}"
        said = (
            f'<p class="pick"><b>To choose: {chosen}</b>: {trade}{against}. '
            f"{_level(picks, 'chosen')}Thriftiest: {thriftiest}. {_level(picks, 'thriftiest')}</p>"
        )
    upgrade = found["upgrade"]
    changes = (
        f"<h2>Instead of {escape(upgrade['now'])}</h2><ul>"
        + "".join(f"<li>{escape(one['sentence'])}</li>" for one in upgrade["changes"])
        + "</ul>"
        if upgrade and upgrade["changes"]
        else ""
    )
    day = timezone.localtime().strftime("%d %b %Y")
    return page_pdf(
        f"<h1>{escape(craft.name)}</h1>"
        f'<p class="soft">{escape(craft.get_layout_display())}, {craft.motors} motors, '
        f"{craft.cells} cells, {craft.capacity_mah:g} mAh; without motors: {items}. {day}.</p>"
        f"{said}{changes}"
        f'<table><tr><th>Motor, propeller</th>{head}<th class="num">ESC, A</th></tr>{body}</table>'
        f'<p class="soft">{escape(" ".join(found["remarks"]))} Slanted with ~: predicted, not '
        "measured; ± is one standard uncertainty.</p>"
        "<p class='soft'>Spinning propellers cut, packs burn: the makers' instructions and local "
        "rules come first. These figures make no craft safe.</p>"
    )


def _level(picks: dict[str, Any], which: str) -> str:
    """Who is not told apart from a pick, as a sentence; empty where everybody is."""
    level = picks["alike"][which]
    if not level["names"]:
        return ""
    more = [f"{level['more']} more"] if level["more"] else []
    return f"Not told apart from it: {escape('; '.join([*level['names'], *more]))}. "


def _basis(item: dict[str, Any]) -> str:
    return {"weighed": "weighed", "claimed": "claimed", "omitted": "guessed"}[
        item.get("basis", "weighed")
    ]


def _esc(one: dict[str, Any]) -> str:
    sizes = [str(size["size_a"]) for size in one["esc"] if size["size_a"]]
    return " to ".join(dict.fromkeys(sizes)) or "—"
