from django.urls import path

from bench.alignment import views

urlpatterns = [
    path("car/<int:car_id>/check/alignment/", views.alignment, name="alignment"),
    path("car/<int:car_id>/check/alignment/<int:adjuster_id>/drop/", views.drop, name="alignment-drop"),
]
