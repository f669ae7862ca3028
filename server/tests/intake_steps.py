"""Steps of an intake, as tests take them: send, weigh, measure."""

import datetime

from spindle_server.teardown.services import record_observation

TODAY = datetime.date.today()


def send(api, method, path, **body):
    return getattr(api, method)(f"/api/v1/{path}", body, format="json")


def file_of(api, motor):
    return api.get(f"/api/v1/motors/{motor.pk}/").json()


def weigh(api, sample, mass_g, **rest):
    body = {"mass_g": mass_g, "resolution_g": 0.01, "weighed_on": "2026-10-01", **rest}
    return send(api, "post", f"samples/{sample.pk}/weighings/", **body)


def measure(sample, **values):
    for attribute, value in values.items():
        answer = {"choice": value} if isinstance(value, str) else {"value": value}
        counted = attribute in ("mount_hole_count", "lead_gauge")
        status = "observed" if counted or isinstance(value, str) else "measured"
        record_observation(actor=None, sample=sample, attribute=attribute, status=status, **answer)
