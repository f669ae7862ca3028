"""Addresses of motors and their files."""

from django.urls import path

from spindle_server.motor_file import lead_wire_views, views

urlpatterns = [
    path("motors/", views.MotorList.as_view()),
    path("motors/<int:pk>/", views.MotorFile.as_view()),
    path("motors/<int:pk>/performance/", views.MotorPerformance.as_view()),
    path("motors/<int:pk>/claim-check/", views.ClaimCheck.as_view()),
    path("motors/<int:pk>/fit/", views.MotorFit.as_view()),
    path("motors/<int:pk>/foreseen-loads/", views.ForeseenLoads.as_view()),
    path("lead-wires/", lead_wire_views.LeadWireList.as_view()),
    path("lead-wires/<int:pk>/", lead_wire_views.LeadWireDetail.as_view()),
    path("peers/", views.Peers.as_view()),
    path("size-code/", views.SizeReading.as_view()),
]
