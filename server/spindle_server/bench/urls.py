"""Addresses of the bench."""

from django.urls import path

from spindle_server.bench import views

urlpatterns = [
    path("bench/", views.BenchState.as_view()),
    path("bench/in-hand/", views.BenchInHand.as_view()),
    path("bench/arm/", views.BenchArm.as_view()),
    path("bench/profile/", views.BenchProfile.as_view()),
    path("bench/profiles/", views.SavedProfiles.as_view()),
    path("bench/profiles/<int:pk>/", views.SavedProfileDetail.as_view()),
    path("bench/sequences/", views.SavedSequences.as_view()),
    path("bench/sequences/<int:pk>/", views.SavedSequenceDetail.as_view()),
    path("bench/checklist/", views.BenchChecklist.as_view()),
    path("bench/repeats/", views.BenchRepeats.as_view()),
    path("bench/start/", views.BenchStart.as_view()),
    path("bench/stop/", views.BenchStop.as_view()),
    path("bench/reset/", views.BenchReset.as_view()),
    path("bench/hand/", views.BenchHand.as_view()),
    path("bench/stand/", views.BenchDriven.as_view()),
    path("bench/limits/", views.GearLimits.as_view()),
    path("bench/door/", views.BenchDoor.as_view()),
    path("bench/retry/", views.BenchRetry.as_view()),
    path("bench/stream/", views.bench_stream),
]
