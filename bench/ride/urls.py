from django.urls import path

from bench.ride import views

urlpatterns = [
    path("car/<int:car_id>/check/ride/", views.ride, name="ride"),
    path("car/<int:car_id>/check/ride/dip/<int:dip_id>/remove/", views.dip_remove, name="dip-remove"),
]
