"""Addresses of publishing."""

from django.urls import path

from spindle_server.publish import publishing_views, views

urlpatterns = [
    path("snapshots/", views.SnapshotList.as_view()),
    path("verdicts/<int:pk>/publication/", publishing_views.VerdictPublication.as_view()),
    path("verdicts/<int:pk>/draft/", publishing_views.VerdictDraft.as_view()),
    path("verdicts/<int:pk>/proposal/", publishing_views.VerdictProposal.as_view()),
    path("publications/", publishing_views.PublishedPages.as_view()),
    path("publications/<int:pk>/withdrawal/", publishing_views.Withdrawal.as_view()),
    path("publications/export/", publishing_views.Export.as_view()),
    path("whole-bench/", publishing_views.WholeBench.as_view()),
    path("publishing-rules/", publishing_views.Rules.as_view()),
]
