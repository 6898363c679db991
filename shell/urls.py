from django.contrib.auth import views as auth
from django.urls import path, reverse_lazy

from shell import views

urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="sign-in"),
    path("sign-out/", views.SignOut.as_view(), name="sign-out"),
    path("worker.js", views.worker, name="worker"),
    path("ping/", views.ping, name="ping"),
    path("sign-up/", views.sign_up, name="sign-up"),
    path("demo-sign-in/", views.demo_sign_in, name="demo-sign-in"),
    path(
        "password/",
        auth.PasswordChangeView.as_view(
            template_name="registration/password.html", success_url=reverse_lazy("settings")
        ),
        name="password",
    ),
    path("undo/<int:change_id>/", views.undo_change, name="undo"),
    path("theme/", views.set_theme, name="theme"),
]
