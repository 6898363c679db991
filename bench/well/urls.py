from django.urls import path

from bench.well import drawings, trials, views

urlpatterns = [
    path("car/<int:car_id>/check/", views.check_start, name="check-start"),
    path("car/<int:car_id>/check/<str:corner>/", views.check, name="check"),
    path("car/<int:car_id>/check/<str:corner>/pin/", views.pin, name="pin"),
    path("car/<int:car_id>/check/<str:corner>/windows/", views.windows, name="windows"),
    path("car/<int:car_id>/check/<str:corner>/remedies/", views.remedies, name="remedies"),
    path("car/<int:car_id>/check/<str:corner>/compare/", views.compare, name="compare"),
    path("car/<int:car_id>/check/<str:corner>/section.svg", drawings.section_svg, name="section-svg"),
    path("car/<int:car_id>/check/<str:corner>/section.dxf", drawings.section_dxf, name="section-dxf"),
    path("car/<int:car_id>/check/<str:corner>/template/", drawings.template_page, name="template"),
    path("car/<int:car_id>/check/<str:corner>/template.svg", drawings.template_svg, name="template-svg"),
    path("car/<int:car_id>/check/<str:corner>/trial/", trials.trial, name="trial"),
    path("car/<int:car_id>/check/trial/<int:trial_id>/remove/", trials.trial_remove, name="trial-remove"),
    path("car/<int:car_id>/check/<str:corner>/rub/", trials.rub, name="rub"),
    path("car/<int:car_id>/check/rub/<int:rub_id>/remove/", trials.rub_remove, name="rub-remove"),
]
