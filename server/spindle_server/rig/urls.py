"""Addresses of the rig."""

from django.urls import path

from spindle_server.rig import views

urlpatterns = [
    path("propellers/", views.PropellerList.as_view()),
    path("propellers/common-sizes/", views.CommonSizes.as_view()),
    path("propellers/<int:pk>/", views.PropellerDetail.as_view()),
    path("bench-declaration/", views.BenchDeclaration.as_view()),
    path("supplies/", views.SupplyList.as_view()),
    path("stands/", views.StandList.as_view()),
]
