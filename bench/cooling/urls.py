from django.urls import path

from bench.cooling import byhand, views

urlpatterns = [
    path("car/<int:car_id>/check/cooling/", views.cooling, name="cooling"),
    path("car/<int:car_id>/check/cooling/live/", views.live, name="bleed-live"),
    path("car/<int:car_id>/check/cooling/by-hand/", byhand.by_hand, name="bleed-hand"),
]
