from django.urls import path

from bench.weights import views

urlpatterns = [
    path("car/<int:car_id>/check/weights/", views.weights, name="weights"),
]
