"""What the large bench is asked when it is timed: every address that reads the record.

An address of the schema is either here, with what it is asked for, or in :data:`NOT_TIMED` with
the reason; a test holds it.
"""

from __future__ import annotations

import random
from typing import Any

from spindle_core.reduction.kinds import KINDS
from spindle_server.accounts.models import User
from spindle_server.compare.asking import MOST_RUNS
from spindle_server.match.models import Craft
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.plan.models import Campaign
from spindle_server.publish.readers import Site
from spindle_server.rank.models import KeptRanking
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.runs.models import Run
from spindle_server.runs.ran import motors_with_runs
from spindle_server.verdict.models import Verdict

RUNS_FILTERED = (
    "page={runs_page}",
    "kind={kind}",
    "motor={motor}",
    "propeller={propeller}",
    "state=accepted&page={runs_page}",
    "search=Model%20{three}",
    "order=-max_thrust_gf&page={runs_page}",
    "order=motor&page={runs_page}",
    "order=propeller&kind=steps",
)

ASKED: dict[str, tuple[str, ...]] = {
    "afterwards/": ("",),
    "bench-declaration/": ("",),
    "bench/repeats/": ("run={uid}",),
    "board/": ("", "search=model%20{three}"),
    "campaigns/": ("",),
    "campaigns/{campaign}/matrix/": ("",),
    "campaigns/{campaign}/sheet/": ("",),
    "campaigns/{campaign}/sheet.csv": ("",),
    "campaigns/{campaign}/meanwhile/": ("",),
    "campaigns/{campaign}/requests/": ("",),
    "campaigns/{campaign}/overrides/": ("",),
    "day-sheets/in-use/": ("",),
    "packs-now/": ("",),
    "claim-quantities/": ("",),
    "doubles/": ("",),
    "compare/": ("runs={some_runs}", "by=model&runs={most_runs}"),
    "compare.csv": ("runs={some_runs}",),
    "compare/bench/": ("figure=power_w", "condition=sustained", "supply=every&also=burst"),
    "compare/bench.csv": ("figure=power_w",),
    "compare/choices/": ("motor={run_motor}&what=propellers", "motor={run_motor}&what=models"),
    "compare/mass/": ("",),
    "compare/mass.csv": ("",),
    "compare/one-kv/": ("",),
    "compare/saved/": ("",),
    "compare/tests/": ("kind=no_load", "kind=peak"),
    "compare/tests.csv": ("kind=no_load",),
    "compare/torque/": ("motor={run_motor}",),
    "craft/": ("",),
    "craft/{craft}/closer/": ("motor={curve_motor}&propeller={curve_propeller}",),
    "craft/{craft}/flown/": ("",),
    "craft/{craft}/match/": ("",),
    "craft/{craft}/match.csv": ("",),
    "adapters/": ("",),
    "escs/": ("",),
    "lead-wires/": ("",),
    "exports/": ("",),
    "expectation/": ("sample={sample}&supply={supply}&propeller={propeller}",),
    "flights/": ("", "craft={craft}"),
    "follow-ups/": ("",),
    "gear-incidents/": ("",),
    "hindsight/": ("",),
    "imports/inbox/": ("",),
    "imports/large/": ("",),
    "imports/mappings/": ("",),
    "letters/": ("page={letters_page}",),
    "motors/": ("page={motors_page}", "search=22%20Model%20{three}", "size_code=2207"),
    "motors/{motor}/": ("",),
    "motors/{motor}/afterwards/": ("",),
    "motors/{motor}/fit/": ("screw_length_mm=8",),
    "motors/{motor}/foreseen-loads/": ("",),
    "motors/{motor}/identified/": ("",),
    "motors/{motor}/performance/": ("",),
    "motors/{motor}/photos/": ("",),
    "motors/{motor}/quoted/": ("",),
    "other-benches/": ("",),
    "peers/": ("size_code=2207&kv_rpm_per_v={kv}",),
    "plan/next/": ("",),
    "propellers/": ("", "search=5"),
    "propellers/{propeller}/identified/": ("",),
    "propellers/common-sizes/": ("",),
    "propellers/identified/": ("",),
    "propellers/readings/": ("motor={motor}&text=5",),
    "publications/": ("",),
    "publishing-rules/": ("",),
    "rank/": ("weights=max_thrust_gf:1,efficiency_g_per_w:{weight},mass_g:1", "use=equal"),
    "rank/kept/": ("",),
    "rank/kept/{ranking}/moves/": ("",),
    "rank/weights/": ("",),
    "readings/later/": ("",),
    "runs/": RUNS_FILTERED,
    "runs/{run}/": ("",),
    "runs/{run}/bench-log.csv": ("",),
    "runs/{run}/expected/": ("",),
    "runs/{run}/points.csv": ("",),
    "runs/{run}/trace/": ("points=1200",),
    "samples/{sample}/photos/": ("",),
    "samples/{sample}/teardown/": ("",),
    "size-code/": ("text=2207",),
    "snapshots/": ("",),
    "stands/": ("",),
    "stands/{stand}/": ("",),
    "supplies/": ("",),
    "teardown/compare/": ("samples={some_samples}",),
    "teardown/compare.csv": ("samples={some_samples}",),
    "teardown/vocabulary/": ("",),
    "users/": ("",),
    "users/{user}/deeds/": ("",),
    "verdicts/": ("",),
    "verdicts/{verdict}/": ("",),
    "verdicts/{verdict}/figures/": ("",),
    "verdicts/{verdict}/notes/": ("",),
    "verdicts/{verdict}/proposals/": ("",),
    "verdicts/{verdict}/publication/": ("",),
    "vocabulary/": ("",),
    "work/": ("",),
    "/read/": ("",),
    "/read/{readers_page}": ("",),
}
"""Address below ``/api/v1/`` (or from the root, with a slash) → what is asked of it."""

_AGENT = "asks the bench agent, which does not run here"
_DOCUMENT = "a document, made once for who wants it"
_NONE = "the seeded record has none"
NOT_TIMED: dict[str, str] = {
    "bench/": _AGENT,
    "bench/checklist/": _AGENT,
    "bench/door/": _AGENT,
    "bench/in-hand/": _AGENT,
    "bench/limits/": _AGENT,
    "bench/profiles/": _AGENT,
    "bench/sequences/": _AGENT,
    "bench-days/{day}/": _NONE,
    "compare/bench.xlsx": _DOCUMENT,
    "campaigns/{id}/sheet.pdf": _DOCUMENT,
    "craft/{id}/match.pdf": _DOCUMENT,
    "craft/{id}/match.xlsx": _DOCUMENT,
    "exports/{id}/runs.zip": _DOCUMENT,
    "imports/inbox/{id}/file/": _NONE,
    "imports/large/{id}/": _NONE,
    "other-benches/{id}/": _NONE,
    "photos/{id}/picture/": _NONE,
    "quoted-packs/{id}/": _NONE,
    "quoted-packs/{id}/file/": _NONE,
    "runs/{id}/source.csv": _NONE,
    "letters/{id}/": "reads one row",
    "not-starting/": "reads no row",
    "session/": "says who is logged in",
    "session/logins/": "reads one's own sessions",
    "session/second-factor/": "reads one's own second factor",
    "access-rule/": "one row",
    "upkeep/": "looks at disks and clocks, not at the record",
    "verdicts/{id}/draft/": _DOCUMENT,
    "whole-bench/": "says what an archive would hold",
}


class Picks:
    """Draws which rows are asked for; the same ``number`` asks the same."""

    def __init__(self, number: int = 3) -> None:
        self._draw = random.Random(number)  # noqa: S311 - which rows are asked for
        self.motors = list(MotorModel.objects.values_list("pk", flat=True))
        self.samples = list(Sample.objects.values_list("pk", flat=True))
        reduced = Run.objects.filter(reduction__error="").order_by("pk")
        self.runs = list(reduced.values_list("pk", "uid", "sample__motor", "kind", "propeller"))
        self._rows = {
            "campaign": _numbers(Campaign),
            "craft": _numbers(Craft),
            "propeller": _numbers(Propeller),
            "ranking": _numbers(KeptRanking),
            "stand": _numbers(Stand),
            "supply": _numbers(Supply),
            "verdict": _numbers(Verdict),
            "user": _numbers(User),
        }
        self._pages = [f"{one.folder}/" for one in Site().listed]
        self.curves = [row for row in self.runs if row[3] == "steps"]
        judged = set(motors_with_runs()[0])
        self.judged = [row for row in self.curves if row[2] in judged]
        self.most_runs = self._under_one_load()

    def _under_one_load(self) -> str:
        """As many runs as a comparison takes: those of one load."""
        first = Run.objects.filter(kind="steps", reduction__error="").first()
        if first is None:
            return ""
        alike = Run.objects.filter(
            kind="steps",
            propeller=first.propeller_id,
            nominal_voltage_v=first.nominal_voltage_v,
            reduction__error="",
        ).select_related("sample__motor")
        models: dict[int, None] = {}
        chosen: list[str] = []
        for run in alike.order_by("pk"):
            models[run.sample.motor_id] = None
            if len(models) <= 40 and len(chosen) < MOST_RUNS:
                chosen.append(str(run.pk))
        return ",".join(chosen)

    def one(self) -> dict[str, Any]:
        """What one request asks for, by the names in :data:`ASKED`."""
        draw = self._draw
        run, curve = draw.choice(self.runs), draw.choice(self.judged)
        return {
            **{name: draw.choice(rows) if rows else 0 for name, rows in self._rows.items()},
            "motor": draw.choice(self.motors),
            "sample": draw.choice(self.samples),
            "run": run[0],
            "uid": run[1],
            "run_motor": run[2],
            "curve_motor": curve[2],
            "curve_propeller": curve[4],
            "kind": draw.choice(list(KINDS)),
            "three": f"{draw.randint(0, 40):03d}",
            "kv": draw.randint(1500, 2500),
            "weight": draw.randint(1, 16) / 4,
            "runs_page": draw.randint(1, max(1, len(self.runs) // 50)),
            "motors_page": draw.randint(1, max(1, len(self.motors) // 50)),
            "letters_page": draw.randint(1, 4),
            "some_runs": _list(
                row[0] for row in draw.sample(self.curves, min(4, len(self.curves)))
            ),
            "readers_page": draw.choice(self._pages) if self._pages else "",
            "most_runs": self.most_runs,
            "some_samples": _list(draw.sample(self.samples, 4)),
        }


def _numbers(model: Any) -> list[int]:
    return list(model.objects.values_list("pk", flat=True))


def _list(numbers: Any) -> str:
    return ",".join(str(number) for number in numbers)


def words_of(address: str, query: str) -> str:
    """How a row of the table is called."""
    return f"{address}?{query}" if query else address
