"""Who may do what, as one table: every endpoint against every role and nobody."""

import pytest
from django.db import transaction

READ, WRITE, FREEZE, ADMIN = "read", "write", "freeze", "admin"

ENDPOINTS = [
    ("get", "/api/v1/board/", READ),
    ("get", "/api/v1/motors/", READ),
    ("get", "/api/v1/motors/{motor}/", READ),
    ("get", "/api/v1/claim-quantities/", READ),
    ("get", "/api/v1/size-code/?text=2207", READ),
    ("get", "/api/v1/teardown/vocabulary/", READ),
    ("get", "/api/v1/samples/{sample}/teardown/", READ),
    ("get", "/api/v1/motors/{motor}/fit/", READ),
    ("get", "/api/v1/motors/{motor}/performance/", READ),
    ("get", "/api/v1/motors/{motor}/photos/", READ),
    ("get", "/api/v1/peers/", READ),
    ("get", "/api/v1/motors/1/foreseen-loads/", READ),
    ("get", "/api/v1/motors/{motor}/identified/", READ),
    ("get", "/api/v1/propellers/1/identified/", READ),
    ("get", "/api/v1/propellers/identified/", READ),
    ("get", "/api/v1/runs/{run}/expected/", READ),
    ("get", "/api/v1/expectation/", READ),
    ("get", "/api/v1/hindsight/", READ),
    ("get", "/api/v1/campaigns/", READ),
    ("post", "/api/v1/campaigns/", WRITE),
    ("patch", "/api/v1/campaigns/1/", WRITE),
    ("get", "/api/v1/campaigns/1/matrix/", READ),
    ("get", "/api/v1/campaigns/1/sheet/", READ),
    ("get", "/api/v1/campaigns/1/sheet.csv", READ),
    ("get", "/api/v1/campaigns/1/sheet.pdf", READ),
    ("get", "/api/v1/campaigns/1/meanwhile/", READ),
    ("get", "/api/v1/campaigns/1/requests/", READ),
    ("get", "/api/v1/campaigns/1/overrides/", READ),
    ("post", "/api/v1/campaigns/1/overrides/", WRITE),
    ("patch", "/api/v1/overrides/1/", WRITE),
    ("post", "/api/v1/campaigns/1/day-sheets/", WRITE),
    ("get", "/api/v1/day-sheets/in-use/", READ),
    ("post", "/api/v1/day-sheets/1/steps/", WRITE),
    ("post", "/api/v1/day-sheets/1/put-away/", WRITE),
    ("get", "/api/v1/packs-now/", READ),
    ("put", "/api/v1/packs-now/1/", WRITE),
    ("get", "/api/v1/plan/next/", READ),
    ("post", "/api/v1/motors/{motor}/claimed-loads/", WRITE),
    ("patch", "/api/v1/claimed-loads/1/", WRITE),
    ("delete", "/api/v1/claimed-loads/1/", WRITE),
    ("get", "/api/v1/doubles/", READ),
    ("post", "/api/v1/doubles/", FREEZE),
    ("post", "/api/v1/doubles/look/", FREEZE),
    ("get", "/api/v1/whole-bench/", ADMIN),
    ("post", "/api/v1/whole-bench/", ADMIN),
    ("get", "/api/v1/afterwards/", READ),
    ("post", "/api/v1/afterwards/tables/", WRITE),
    ("post", "/api/v1/afterwards/tables/look/", WRITE),
    ("post", "/api/v1/afterwards/erasing/", ADMIN),
    ("get", "/api/v1/flights/", READ),
    ("post", "/api/v1/flights/", WRITE),
    ("patch", "/api/v1/flights/1/", WRITE),
    ("get", "/api/v1/letters/", READ),
    ("post", "/api/v1/letters/", WRITE),
    ("get", "/api/v1/letters/1/", READ),
    ("patch", "/api/v1/letters/1/", WRITE),
    ("get", "/api/v1/follow-ups/", READ),
    ("post", "/api/v1/follow-ups/", WRITE),
    ("patch", "/api/v1/follow-ups/1/", WRITE),
    ("get", "/api/v1/craft/1/flown/", READ),
    ("get", "/api/v1/motors/{motor}/afterwards/", READ),
    ("get", "/api/v1/other-benches/", READ),
    ("get", "/api/v1/other-benches/1/", READ),
    ("patch", "/api/v1/other-benches/1/", WRITE),
    ("post", "/api/v1/quoted-packs/", WRITE),
    ("post", "/api/v1/quoted-packs/look/", WRITE),
    ("get", "/api/v1/quoted-packs/1/", READ),
    ("patch", "/api/v1/quoted-packs/1/", WRITE),
    ("get", "/api/v1/quoted-packs/1/file/", READ),
    ("get", "/api/v1/motors/{motor}/quoted/", READ),
    ("get", "/api/v1/compare/bench/", READ),
    ("get", "/api/v1/compare/bench.csv", READ),
    ("get", "/api/v1/compare/bench.xlsx", READ),
    ("get", "/api/v1/craft/", READ),
    ("post", "/api/v1/craft/", WRITE),
    ("patch", "/api/v1/craft/1/", WRITE),
    ("get", "/api/v1/craft/1/match/", READ),
    ("get", "/api/v1/craft/1/match.csv", READ),
    ("get", "/api/v1/craft/1/match.xlsx", READ),
    ("get", "/api/v1/craft/1/match.pdf", READ),
    ("get", "/api/v1/craft/1/closer/", READ),
    ("get", "/api/v1/rank/", READ),
    ("get", "/api/v1/rank/weights/", READ),
    ("post", "/api/v1/rank/weights/", WRITE),
    ("delete", "/api/v1/rank/weights/1/", WRITE),
    ("get", "/api/v1/rank/kept/", READ),
    ("post", "/api/v1/rank/kept/", WRITE),
    ("get", "/api/v1/rank/kept/1/moves/", READ),
    ("get", "/api/v1/samples/{sample}/photos/", READ),
    ("get", "/api/v1/photos/1/picture/", READ),
    ("get", "/api/v1/teardown/compare/?samples=1,2", READ),
    ("get", "/api/v1/teardown/compare.csv?samples=1,2", READ),
    ("get", "/api/v1/bench-declaration/", READ),
    ("get", "/api/v1/vocabulary/", READ),
    ("get", "/api/v1/propellers/", READ),
    ("get", "/api/v1/propellers/common-sizes/", READ),
    ("get", "/api/v1/supplies/", READ),
    ("get", "/api/v1/stands/", READ),
    ("get", "/api/v1/stands/1/", READ),
    ("get", "/api/v1/escs/", READ),
    ("get", "/api/v1/adapters/", READ),
    ("get", "/api/v1/lead-wires/", READ),
    ("get", "/api/v1/exports/", READ),
    ("get", "/api/v1/exports/1/runs.zip", READ),
    ("get", "/api/v1/bench/limits/", READ),
    ("get", "/api/v1/readings/later/", READ),
    ("patch", "/api/v1/readings/later/1/", WRITE),
    ("put", "/api/v1/runs/{run}/noticed/", WRITE),
    ("get", "/api/v1/propellers/readings/?text=5043", READ),
    ("get", "/api/v1/bench-days/2026-10-05/", READ),
    ("get", "/api/v1/bench/", READ),
    ("get", "/api/v1/runs/", READ),
    ("get", "/api/v1/runs/{run}/", READ),
    ("get", "/api/v1/runs/{run}/trace/", READ),
    ("get", "/api/v1/runs/{run}/bench-log.csv", READ),
    ("get", "/api/v1/runs/{run}/points.csv", READ),
    ("get", "/api/v1/runs/{run}/source.csv", READ),
    ("get", "/api/v1/compare/?runs={run}", READ),
    ("get", "/api/v1/compare/tests/", READ),
    ("get", "/api/v1/compare/tests.csv", READ),
    ("get", "/api/v1/compare/one-kv/", READ),
    ("get", "/api/v1/compare/mass/", READ),
    ("get", "/api/v1/compare/mass.csv", READ),
    ("get", "/api/v1/compare/choices/?motor={motor}&what=samples", READ),
    ("get", "/api/v1/compare/torque/?motor={motor}", READ),
    ("get", "/api/v1/compare/saved/", READ),
    ("post", "/api/v1/compare/saved/", WRITE),
    ("patch", "/api/v1/compare/saved/1/", WRITE),
    ("delete", "/api/v1/compare/saved/1/", WRITE),
    ("post", "/api/v1/compare/picks/", WRITE),
    ("delete", "/api/v1/compare/picks/1/", WRITE),
    ("get", "/api/v1/compare.csv?runs={run}", READ),
    ("get", "/api/v1/snapshots/", READ),
    ("get", "/api/v1/verdicts/", READ),
    ("post", "/api/v1/verdicts/", WRITE),
    ("get", "/api/v1/verdicts/1/", READ),
    ("patch", "/api/v1/verdicts/1/", WRITE),
    ("get", "/api/v1/verdicts/1/proposals/", READ),
    ("post", "/api/v1/verdicts/1/adopt/", WRITE),
    ("get", "/api/v1/verdicts/1/figures/", READ),
    ("post", "/api/v1/verdicts/1/figures/", WRITE),
    ("patch", "/api/v1/verdicts/1/figures/1/", WRITE),
    ("get", "/api/v1/verdicts/1/notes/", READ),
    ("get", "/api/v1/verdicts/1/draft/", READ),
    ("get", "/api/v1/verdicts/1/publication/", READ),
    ("post", "/api/v1/verdicts/1/publication/", FREEZE),
    ("post", "/api/v1/verdicts/1/proposal/", WRITE),
    ("get", "/api/v1/publications/", READ),
    ("post", "/api/v1/publications/1/withdrawal/", FREEZE),
    ("post", "/api/v1/publications/export/", FREEZE),
    ("get", "/api/v1/publishing-rules/", READ),
    ("patch", "/api/v1/publishing-rules/", FREEZE),
    ("post", "/api/v1/motors/", WRITE),
    ("post", "/api/v1/motors/{motor}/samples/", WRITE),
    ("post", "/api/v1/motors/{motor}/claims/", WRITE),
    ("delete", "/api/v1/motors/{motor}/claims/1/", WRITE),
    ("put", "/api/v1/samples/{sample}/teardown/", WRITE),
    ("patch", "/api/v1/motors/{motor}/", WRITE),
    ("post", "/api/v1/motors/{motor}/parcels/", WRITE),
    ("post", "/api/v1/motors/{motor}/claim-check/", WRITE),
    ("post", "/api/v1/motors/{motor}/expectations/", WRITE),
    ("patch", "/api/v1/samples/{sample}/", WRITE),
    ("post", "/api/v1/samples/{sample}/weighings/", WRITE),
    ("post", "/api/v1/samples/{sample}/preparations/", WRITE),
    ("get", "/api/v1/not-starting/", READ),
    ("post", "/api/v1/samples/{sample}/not-starting/", WRITE),
    ("post", "/api/v1/samples/{sample}/incidents/", WRITE),
    ("post", "/api/v1/samples/{sample}/photos/", WRITE),
    ("patch", "/api/v1/weighings/1/", WRITE),
    ("patch", "/api/v1/preparations/1/", WRITE),
    ("patch", "/api/v1/incidents/1/", WRITE),
    ("patch", "/api/v1/parcels/1/", WRITE),
    ("post", "/api/v1/parcels/1/parts/", WRITE),
    ("put", "/api/v1/parts/1/", WRITE),
    ("delete", "/api/v1/parts/1/", WRITE),
    ("patch", "/api/v1/photos/1/", WRITE),
    ("patch", "/api/v1/propellers/1/", WRITE),
    ("patch", "/api/v1/bench-declaration/", WRITE),
    ("post", "/api/v1/propellers/", WRITE),
    ("post", "/api/v1/propellers/common-sizes/", WRITE),
    ("post", "/api/v1/supplies/", WRITE),
    ("post", "/api/v1/stands/", WRITE),
    ("patch", "/api/v1/supplies/1/", WRITE),
    ("post", "/api/v1/escs/", WRITE),
    ("post", "/api/v1/adapters/", WRITE),
    ("post", "/api/v1/lead-wires/", WRITE),
    ("patch", "/api/v1/lead-wires/1/", WRITE),
    ("delete", "/api/v1/lead-wires/1/", WRITE),
    ("post", "/api/v1/exports/", WRITE),
    ("delete", "/api/v1/exports/1/", WRITE),
    ("patch", "/api/v1/adapters/1/", WRITE),
    ("patch", "/api/v1/escs/1/", WRITE),
    ("patch", "/api/v1/stands/1/", WRITE),
    ("post", "/api/v1/stands/1/states/", WRITE),
    ("post", "/api/v1/stands/1/instruments/", WRITE),
    ("post", "/api/v1/stands/1/calibrations/", WRITE),
    ("post", "/api/v1/stands/1/calibration-trial/", WRITE),
    ("post", "/api/v1/stands/1/checks/", WRITE),
    ("patch", "/api/v1/calibrations/1/", WRITE),
    ("patch", "/api/v1/mass-checks/1/", WRITE),
    ("put", "/api/v1/bench-days/2026-10-05/", WRITE),
    ("post", "/api/v1/readings/", WRITE),
    ("post", "/api/v1/readings/look/", WRITE),
    ("post", "/api/v1/bench/arm/", WRITE),
    ("post", "/api/v1/bench/profile/", WRITE),
    ("get", "/api/v1/bench/checklist/", READ),
    ("get", "/api/v1/bench/in-hand/", READ),
    ("get", "/api/v1/bench/sequences/", READ),
    ("post", "/api/v1/bench/sequences/", WRITE),
    ("delete", "/api/v1/bench/sequences/1/", WRITE),
    ("get", "/api/v1/bench/profiles/", READ),
    ("post", "/api/v1/bench/profiles/", WRITE),
    ("delete", "/api/v1/bench/profiles/1/", WRITE),
    ("get", "/api/v1/bench/repeats/?run=00000000-0000-4000-8000-000000000000", READ),
    ("post", "/api/v1/bench/start/", WRITE),
    ("post", "/api/v1/bench/stop/", READ),
    ("get", "/api/v1/bench/door/", READ),
    ("post", "/api/v1/bench/retry/", WRITE),
    ("post", "/api/v1/bench/reset/", WRITE),
    ("post", "/api/v1/bench/hand/", WRITE),
    ("post", "/api/v1/bench/stand/", WRITE),
    ("patch", "/api/v1/runs/{run}/", WRITE),
    ("post", "/api/v1/runs/{run}/reduction/", WRITE),
    ("post", "/api/v1/imports/preview/", WRITE),
    ("post", "/api/v1/imports/", WRITE),
    ("post", "/api/v1/imports/open/", WRITE),
    ("post", "/api/v1/imports/files/", WRITE),
    ("get", "/api/v1/imports/mappings/", READ),
    ("post", "/api/v1/imports/large/open/", WRITE),
    ("get", "/api/v1/imports/large/", READ),
    ("post", "/api/v1/imports/large/", WRITE),
    ("get", "/api/v1/imports/large/1/", READ),
    ("delete", "/api/v1/imports/large/1/", WRITE),
    ("put", "/api/v1/imports/large/1/parts/1/", WRITE),
    ("post", "/api/v1/imports/large/1/store/", WRITE),
    ("get", "/api/v1/gear-incidents/", READ),
    ("post", "/api/v1/gear-incidents/", WRITE),
    ("patch", "/api/v1/gear-incidents/1/", WRITE),
    ("get", "/api/v1/imports/inbox/", READ),
    ("patch", "/api/v1/imports/inbox/1/", WRITE),
    ("get", "/api/v1/imports/inbox/1/file/", READ),
    ("get", "/api/v1/upkeep/", ADMIN),
    ("get", "/api/v1/work/", READ),
    ("post", "/api/v1/work/1/stop/", WRITE),
    ("post", "/api/v1/runs/rebuild/", WRITE),
    ("delete", "/api/v1/imports/mappings/1/", WRITE),
    ("post", "/api/v1/snapshots/", FREEZE),
    ("get", "/api/v1/users/", ADMIN),
    ("post", "/api/v1/users/", ADMIN),
    ("patch", "/api/v1/users/1/", ADMIN),
    ("post", "/api/v1/users/1/password/", ADMIN),
    ("get", "/api/v1/users/1/deeds/", ADMIN),
    ("delete", "/api/v1/users/1/second-factor/", ADMIN),
    ("get", "/api/v1/access-rule/", ADMIN),
    ("patch", "/api/v1/access-rule/", ADMIN),
    ("get", "/api/v1/session/second-factor/", READ),
    ("post", "/api/v1/session/second-factor/", READ),
    ("post", "/api/v1/session/second-factor/confirmed/", READ),
    ("post", "/api/v1/session/second-factor/codes/", READ),
    ("post", "/api/v1/session/second-factor/ended/", READ),
    ("post", "/api/v1/session/password/", READ),
    ("get", "/api/v1/session/logins/", READ),
    ("delete", "/api/v1/session/logins/x/", READ),
]

ALLOWED = {
    READ: {"reader", "reviewer", "editor", "administrator"},
    WRITE: {"reviewer", "editor", "administrator"},
    FREEZE: {"editor", "administrator"},
    ADMIN: {"administrator"},
}


ROLES = (None, "reader", "reviewer", "editor", "administrator")


@pytest.fixture(scope="module")
def a_run(common_house):
    return common_house.record()


@pytest.mark.parametrize(("method", "path", "needs"), ENDPOINTS)
def test_every_endpoint_against_every_role(a_run, as_role, rig, method, path, needs):
    address = path.format(motor=rig["motor"].pk, sample=rig["samples"][0].pk, run=a_run.pk)
    for role in ROLES:
        # Each finds what the one before found.
        with transaction.atomic():
            answer = getattr(as_role(role), method)(address)
            transaction.set_rollback(True)
        if role is None:
            assert answer.status_code == 401, role
            assert answer.json()["code"] == "not_authenticated"
        elif role in ALLOWED[needs]:
            # Allowed means past the door: an empty body or an absent agent is another matter.
            assert answer.status_code not in (401, 403), role
        else:
            assert answer.status_code == 403, role
            assert answer.json()["code"] == "permission_denied"


def test_the_table_names_every_endpoint():
    """A new endpoint without a line above fails here."""
    from spindle_server.urls import stations

    known = {
        path.split("?")[0].replace("{motor}", "1").replace("{sample}", "1").replace("{run}", "1")
        for _, path, _ in ENDPOINTS
    }
    for station in stations:
        for pattern in station.url_patterns:
            route = "/api/v1/" + str(pattern.pattern)
            for part in ("<int:pk>", "<int:claim_pk>", "<int:figure_pk>", "<int:index>"):
                route = route.replace(part, "1")
            route = route.replace("<str:day>", "2026-10-05").replace("<str:handle>", "x")
            open_ones = ("/api/v1/session/", "/api/v1/bench/stream/")
            assert route in known or route in open_ones, route


def test_the_front_page_is_all_that_strangers_get(client, db, settings, tmp_path):
    settings.WEB_BUILD = tmp_path
    assert client.get("/").status_code in (200, 503)
    assert client.get("/api/v1/nothing/").json()["code"] == "not_found"
    assert client.get("/api/v1/runs/1/").status_code == 401


def test_a_deactivated_person_is_a_stranger(as_role, people):
    people["editor"].is_active = False
    assert as_role("editor").get("/api/v1/board/").status_code in (401, 403)
