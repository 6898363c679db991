from django.urls import path

from bench.air import picture, views

urlpatterns = [
    path("car/<int:car_id>/check/air/", views.air, name="air"),
    path("car/<int:car_id>/check/air/<int:panel_id>/picture/", picture.picture, name="air-picture"),
    path("car/<int:car_id>/check/air/<int:panel_id>/card.jpg", picture.card, name="air-card"),
    path("car/<int:car_id>/check/air/<int:panel_id>/remove/", views.panel_remove, name="air-remove"),
    path("car/<int:car_id>/check/air/<int:panel_id>/panel.svg", views.panel_svg, name="air-svg"),
    path("car/<int:car_id>/check/air/<int:panel_id>/panel.dxf", views.panel_dxf, name="air-dxf"),
    path("car/<int:car_id>/check/air/<int:panel_id>/tiles/", views.panel_tiles, name="air-tiles"),
]
