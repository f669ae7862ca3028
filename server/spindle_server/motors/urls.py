"""Addresses of samples, claims, parcels and weighings."""

from django.urls import path

from spindle_server.motors import not_starting, record_views, views

urlpatterns = [
    path("motors/<int:pk>/samples/", views.SampleList.as_view()),
    path("motors/<int:pk>/parcels/", record_views.ParcelList.as_view()),
    path("motors/<int:pk>/claims/", views.ClaimList.as_view()),
    path("motors/<int:pk>/claims/<int:claim_pk>/", views.ClaimDetail.as_view()),
    path("motors/<int:pk>/claimed-loads/", views.ClaimedLoadList.as_view()),
    path("claimed-loads/<int:pk>/", views.ClaimedLoadDetail.as_view()),
    path("motors/<int:pk>/expectations/", views.ExpectationList.as_view()),
    path("samples/<int:pk>/", views.SampleDetail.as_view()),
    path("samples/<int:pk>/weighings/", record_views.WeighingList.as_view()),
    path("samples/<int:pk>/preparations/", record_views.PreparationList.as_view()),
    path("samples/<int:pk>/incidents/", record_views.IncidentList.as_view()),
    path("not-starting/", not_starting.NotStarting.as_view()),
    path("samples/<int:pk>/not-starting/", not_starting.DoesNotStart.as_view()),
    path("weighings/<int:pk>/", record_views.WeighingDetail.as_view()),
    path("preparations/<int:pk>/", record_views.PreparationDetail.as_view()),
    path("incidents/<int:pk>/", record_views.IncidentDetail.as_view()),
    path("parcels/<int:pk>/", record_views.ParcelDetail.as_view()),
    path("parcels/<int:pk>/parts/", record_views.PartList.as_view()),
    path("parts/<int:pk>/", record_views.PartDetail.as_view()),
    path("claim-quantities/", views.ClaimQuantities.as_view()),
]
