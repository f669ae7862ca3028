"""Prose in a closed schema: what it holds, what it refuses, what it finds typed by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.publish.document import (
    DocumentError,
    checked_document,
    figures_in,
    is_empty,
    paragraph_of,
    plain_text,
    typed_figures,
    typed_in,
)


def doc(*blocks):
    return {"type": "doc", "content": list(blocks)}


def words(text, *marks):
    return {"type": "text", "text": text, "marks": [{"type": mark} for mark in marks]}


def paragraph(*inline, **attrs):
    return {"type": "paragraph", "attrs": attrs, "content": list(inline)}


def points(*paragraphs):
    items = [{"type": "listItem", "content": [one]} for one in paragraphs]
    return {"type": "bulletList", "content": items}


def figure(pk):
    return {"type": "figure", "attrs": {"figure": pk}}


def test_it_is_rebuilt_from_what_the_schema_knows():
    given = doc(
        paragraph(words("pulls ", "italic", "bold"), figure(4), rests_on=[4, 9, 4], style="x"),
        points(paragraph(words("a point"), textAlign="left")),
    )
    given["content"][0]["onclick"] = "alert(1)"
    kept = checked_document(given)
    assert kept["content"][0] == {
        "type": "paragraph",
        "attrs": {"rests_on": [4, 9]},
        "content": [
            {"type": "text", "text": "pulls ", "marks": [{"type": "bold"}, {"type": "italic"}]},
            {"type": "figure", "attrs": {"figure": 4}},
        ],
    }
    assert checked_document(kept) == kept
    assert figures_in(kept) == [4, 9]
    assert plain_text(kept, {4: "1,180 gf"}) == "pulls 1,180 gf\n• a point"


@pytest.mark.parametrize(
    "bad",
    [
        None,
        [],
        "doc",
        {"type": "paragraph"},
        {"content": []},
        {"type": 3},
        doc({"type": "heading"}),
        doc({"type": "text", "text": "loose"}),
        doc(None),
        doc("x"),
        doc(paragraph({"type": "image", "attrs": {"src": "x"}})),
        doc(paragraph({"type": "text", "text": ""})),
        doc(paragraph({"type": "text"})),
        doc(paragraph(words("x", "link"))),
        doc(paragraph(words("half \ud800 a pair"))),
        doc(paragraph(words("a \x00 byte"))),
        doc(paragraph(figure(0))),
        doc(paragraph(figure(True))),
        doc(paragraph(figure("4"))),
        doc(paragraph(figure(1.0))),
        doc(paragraph({"type": "figure"})),
        doc(paragraph(rests_on="4")),
        doc(paragraph(rests_on=[None])),
        doc(paragraph(rests_on=[-1])),
        doc({"type": "bulletList", "content": [paragraph()]}),
        doc({"type": "bulletList", "content": [{"type": "listItem", "content": [points()]}]}),
        {"type": "doc", "content": {"0": {}}},
        doc(paragraph({"type": "text", "text": "x", "marks": "bold"})),
        doc(paragraph({"type": "text", "text": "x", "marks": ["bold"]})),
    ],
)
def test_anything_else_is_refused(bad):
    with pytest.raises(DocumentError):
        checked_document(bad)


def test_a_section_has_an_end():
    with pytest.raises(DocumentError, match="20,000 characters"):
        checked_document(doc(paragraph(words("x" * 20_001))))
    with pytest.raises(DocumentError, match="move some"):
        checked_document(doc(*[paragraph() for _ in range(601)]))


JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.text(max_size=8),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(
            st.sampled_from(["type", "content", "attrs", "marks", "text", "figure", "rests_on"]),
            inner
            | st.sampled_from(["doc", "paragraph", "text", "figure", "bulletList", "listItem"]),
            max_size=4,
        )
    ),
    max_leaves=20,
)


@given(JSON)
def test_whatever_is_sent_is_taken_whole_or_refused_in_words(value):
    try:
        kept = checked_document(value)
    except DocumentError:
        return
    assert checked_document(kept) == kept
    assert isinstance(plain_text(kept, {}), str)
    assert isinstance(figures_in(kept), list)


@pytest.mark.parametrize(
    ("text", "typed"),
    [
        ("It pulls 1,180 gf.", ["1,180 gf"]),
        ("It pulls 1180gf and draws 26.1 A", ["1180gf", "26.1 A"]),
        ("−7 % thrust, +1.4 K", ["−7 %", "+1.4 K"]),
        ("of 1,900 kV and 3.4 g/W", ["1,900 kV", "3.4 g/W"]),
        ("eats 450 watts", ["450 watts"]),
        # What names a motor, a propeller or a voltage is no figure.
        ("the 2306 on a Wickett 5.1x4.2x3 at 16 V with 4 cells", []),
        ("3 of 4 Amperes were wrong, 2 winds, a 5 Ah pack", []),
        ("sample A1, run 12, No. 4 and Drift 2206", []),
    ],
)
def test_figures_typed_by_hand_are_seen(text, typed):
    assert typed_figures(text) == typed
    assert typed_in(checked_document(doc(points(paragraph(words(text)))))) == typed


def test_the_level_a_figure_was_read_at_is_no_figure_of_its_own():
    at = checked_document(
        doc(paragraph(words("at 1,500 gf it takes "), figure(4)), paragraph(words("at 1,500 gf")))
    )
    assert typed_in(at) == ["1,500 gf", "1,500 gf"]
    # The second stands in a paragraph without that figure.
    assert typed_in(at, {4: "1500 gf", 5: "900 gf"}) == ["1,500 gf"]
    assert typed_in(at, {4: ""}) == ["1,500 gf", "1,500 gf"]


def test_empty_is_what_holds_no_word_and_no_figure():
    assert is_empty({})
    assert is_empty(checked_document(doc(paragraph(), paragraph(words("  ")))))
    assert not is_empty(checked_document(doc(paragraph(figure(3)))))


def test_a_statement_becomes_a_paragraph_that_keeps_what_it_rests_on():
    made = paragraph_of(["It pulls ", 4, "", "."], [4, 5])
    assert checked_document(doc(made))["content"] == [made]
    assert figures_in(doc(made)) == [4, 5]
