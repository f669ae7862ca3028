"""Addresses of other benches."""

from django.urls import path

from spindle_server.other_benches import views

urlpatterns = [
    path("other-benches/", views.OtherBenches.as_view()),
    path("other-benches/<int:pk>/", views.OtherBenchDetail.as_view()),
    path("quoted-packs/", views.PackQuote.as_view()),
    path("quoted-packs/look/", views.PackLook.as_view()),
    path("quoted-packs/<int:pk>/", views.PackDetail.as_view()),
    path("quoted-packs/<int:pk>/file/", views.PackFile.as_view()),
    path("motors/<int:pk>/quoted/", views.MotorQuoted.as_view()),
]
