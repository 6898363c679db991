from django.urls import path

from bench.steering import views

urlpatterns = [
    path("car/<int:car_id>/check/steering/", views.steering, name="steering"),
]
