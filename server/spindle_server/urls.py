"""Addresses: the API by station, readers' pages, and the front page for everything else."""

from django.urls import include, path, re_path
from django.views.generic import RedirectView

from spindle_server.api import schema as _schema  # noqa: F401 - registers the scheme
from spindle_server.api.front_page import front_page
from spindle_server.publish.readers_views import read
from spindle_server.upkeep.views import healthz

stations = [
    path("", include("spindle_server.accounts.urls")),
    path("", include("spindle_server.board.urls")),
    path("", include("spindle_server.motors.urls")),
    path("", include("spindle_server.motor_file.urls")),
    path("", include("spindle_server.teardown.urls")),
    path("", include("spindle_server.photos.urls")),
    path("", include("spindle_server.rig.urls")),
    path("", include("spindle_server.bench.urls")),
    path("", include("spindle_server.runs.urls")),
    path("", include("spindle_server.identification.urls")),
    path("", include("spindle_server.plan.urls")),
    path("", include("spindle_server.afterwards.urls")),
    path("", include("spindle_server.rank.urls")),
    path("", include("spindle_server.match.urls")),
    path("", include("spindle_server.imports.urls")),
    path("", include("spindle_server.exports.urls")),
    path("", include("spindle_server.work.urls")),
    path("", include("spindle_server.compare.urls")),
    path("", include("spindle_server.other_benches.urls")),
    path("", include("spindle_server.verdict.urls")),
    path("", include("spindle_server.publish.urls")),
    path("", include("spindle_server.doubles.urls")),
    path("", include("spindle_server.vocabulary.urls")),
    path("", include("spindle_server.upkeep.urls")),
]

urlpatterns = [
    path("api/v1/", include(stations)),
    path("healthz", healthz),
    path("read", RedirectView.as_view(url="/read/")),
    re_path(r"^read/(?P<path>.*)$", read),
    re_path(r"^(?!api/|static/|read/).*$", front_page),
]

handler400 = "spindle_server.api.errors.json_bad_request"
handler404 = "spindle_server.api.errors.json_not_found"
handler500 = "spindle_server.api.errors.json_server_error"
