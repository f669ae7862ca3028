"""Addresses of the rig."""

from django.urls import path

from spindle_server.rig import adapter_views, driving_views, incident_views, stand_views, views

urlpatterns = [
    path("propellers/", views.PropellerList.as_view()),
    path("propellers/common-sizes/", views.CommonSizes.as_view()),
    path("propellers/readings/", views.PropellerReadings.as_view()),
    path("propellers/<int:pk>/", views.PropellerDetail.as_view()),
    path("bench-declaration/", views.BenchDeclaration.as_view()),
    path("adapters/", adapter_views.AdapterList.as_view()),
    path("adapters/<int:pk>/", adapter_views.AdapterDetail.as_view()),
    path("supplies/", driving_views.SupplyList.as_view()),
    path("supplies/<int:pk>/", driving_views.SupplyDetail.as_view()),
    path("escs/", driving_views.EscList.as_view()),
    path("escs/<int:pk>/", driving_views.EscDetail.as_view()),
    path("gear-incidents/", incident_views.GearIncidentList.as_view()),
    path("gear-incidents/<int:pk>/", incident_views.GearIncidentDetail.as_view()),
    path("stands/", stand_views.StandList.as_view()),
    path("stands/<int:pk>/", stand_views.StandDetail.as_view()),
    path("stands/<int:pk>/states/", stand_views.StandStates.as_view()),
    path("stands/<int:pk>/instruments/", stand_views.StandInstruments.as_view()),
    path("stands/<int:pk>/calibrations/", stand_views.StandCalibrations.as_view()),
    path("stands/<int:pk>/calibration-trial/", stand_views.CalibrationTrial.as_view()),
    path("stands/<int:pk>/checks/", stand_views.StandChecks.as_view()),
    path("calibrations/<int:pk>/", stand_views.CalibrationDetail.as_view()),
    path("mass-checks/<int:pk>/", stand_views.MassCheckDetail.as_view()),
]
