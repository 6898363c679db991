from django.urls import path

from shelf import part_views, tracing, views
from shelf.sets import views as sets

urlpatterns = [
    path("car/<int:car_id>/choose/", views.choose, name="choose"),
    path("car/<int:car_id>/choose/pairs/", views.pairs, name="choose-pairs"),
    path("car/<int:car_id>/choose/sets/", sets.sets, name="sets"),
    path("car/<int:car_id>/choose/sets/<int:set_id>/fit/", sets.fit, name="set-fit"),
    path("car/<int:car_id>/choose/sets/<int:set_id>/remove/", sets.remove, name="set-remove"),
    path("car/<int:car_id>/choose/table/", views.table, name="choose-table"),
    path("car/<int:car_id>/choose/pair/<int:wheel_id>/<int:tyre_id>/", views.pair, name="pair"),
    path("car/<int:car_id>/choose/tyre/<int:tyre_id>/trace/", tracing.trace, name="trace"),
    path("car/<int:car_id>/choose/tyre/<int:tyre_id>/card.jpg", tracing.card_picture, name="card-picture"),
    path("car/<int:car_id>/choose/parts/<str:family>/", part_views.parts, name="choose-parts"),
    path("car/<int:car_id>/choose/part/<int:part_id>/", part_views.part, name="part"),
    path("car/<int:car_id>/choose/part/<int:part_id>/quotes/", part_views.quotes, name="quotes"),
    path("car/<int:car_id>/choose/part/<int:part_id>/<str:what>/", part_views.part_do, name="part-do"),
    path("car/<int:car_id>/choose/<str:kind>/<int:candidate_id>/", views.candidate, name="candidate"),
    path(
        "car/<int:car_id>/choose/<str:kind>/<int:candidate_id>/remove/", views.candidate_remove, name="candidate-remove"
    ),
]
