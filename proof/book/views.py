"""The build book as a page to print, and as a folder of open files."""

from __future__ import annotations

from django import forms
from django.http import FileResponse, HttpRequest, HttpResponse
from django.utils import timezone

from garage.file import open_file
from proof.book.chapters import CHAPTERS, FOR, Book, book_of
from proof.book.folder import folder_of
from shell.pages import page


class BookForm(forms.Form):
    """Which chapters, with or without money."""

    chapter = forms.MultipleChoiceField(
        choices=list(CHAPTERS.items()), widget=forms.CheckboxSelectMultiple, required=False, label="Chapters"
    )
    money = forms.BooleanField(required=False, label="With prices")


def _asked(request: HttpRequest) -> tuple[tuple[str, ...], bool]:
    """Chapters in their order; what is no chapter is passed over, none at all is everything."""
    _, chapters, money = FOR.get(request.GET.get("for", ""), FOR["whole"])
    named = [code for code in CHAPTERS if code in request.GET.getlist("chapter")]
    return (tuple(named), "money" in request.GET) if named else (chapters, money)


def build_book(request: HttpRequest, car_id: int) -> HttpResponse | FileResponse:
    """The book; with ``as=folder`` its open files."""
    file = open_file(request.user, car_id)
    chapters, money = _asked(request)
    book = book_of(file, chapters, money)
    if request.GET.get("as") == "folder":
        name = f"build-book-{file.car.pk}-{timezone.localdate()}.zip"
        return FileResponse(folder_of(file, book), as_attachment=True, filename=name, content_type="application/zip")
    form = BookForm(initial={"chapter": chapters, "money": money})
    context = {"book": book, "form": form, "presets": [(key, words) for key, (words, _, _) in FOR.items()]}
    return page(request, file, "prove", "proof/book.html", context | {"told": _told(book)})


def _told(book: Book) -> str:
    return "with prices" if book.money else "without prices"
