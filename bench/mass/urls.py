from django.urls import path

from bench.mass import views

urlpatterns = [
    path("car/<int:car_id>/check/mass/", views.mass, name="mass"),
    path("car/<int:car_id>/check/mass/scale/", views.scale, name="mass-scale"),
    path("car/<int:car_id>/check/mass/labels/", views.labels, name="mass-labels"),
    path("car/<int:car_id>/check/mass/<str:label>/", views.item, name="mass-item"),
]
