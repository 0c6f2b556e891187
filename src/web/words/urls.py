"""Address of the theme switch."""

from django.urls import path

from web.words.views import choose_theme

urlpatterns = [path("theme/", choose_theme, name="theme")]
