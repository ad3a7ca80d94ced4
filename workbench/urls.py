"""Addresses: those of the program by hand, those of a build's pages from their records."""

from django.urls import path, register_converter

from workbench.views import (
    boards,
    copies,
    drawer,
    errors,
    findings,
    first_form,
    helpers,
    intake,
    log,
    module_sheet,
    outward,
    revisions,
    wishes,
    workbench,
)
from workbench.views.every import every_page


class KeyConverter:
    """
    A part's key in an address: what a build file may call a part, dots included, for parts of older
    releases have them.
    """

    regex = "[a-z0-9][a-z0-9_.-]{0,63}"

    def to_python(self, value: str) -> str:
        """As it stands."""
        return value

    def to_url(self, value: str) -> str:
        """As it stands."""
        return value


register_converter(KeyConverter, "key")
urlpatterns = [
    path("", workbench.Workbench.as_view(), name="workbench"),
    path("import/", workbench.Import.as_view(), name="import"),
    path("first/", first_form.FirstFormPage.as_view(), name="first"),
    path("wish/", wishes.WishPage.as_view(), name="wish"),
    path("drawer/", drawer.Drawer.as_view(), name="drawer"),
    path("drawer/part/", drawer.PartForm.as_view(), name="part"),
    path("drawer/board/", boards.BoardGrid.as_view(), name="board"),
    path("drawer/board/<key:key>.<slug:form>", boards.export_board, name="export-board"),
    path("drawer/module/<key:key>/", module_sheet.ModuleSheet.as_view(), name="module-sheet"),
    path("drawer/module/<key:key>/photo/", module_sheet.photo, name="module-photo"),
    path("drawer/intake/", intake.Intake.as_view(), name="intake"),
    path("drawer/import/", drawer.ImportParts.as_view(), name="import-parts"),
    path("drawer/export/", drawer.export, name="export-parts"),
    path("progress/", helpers.progress, name="progress"),
    path("look/", helpers.look, name="look"),
    path("echo/", helpers.echo, name="echo"),
    path("step/", helpers.step, name="step"),
    path("builds/<int:pk>/revisions/", revisions.Revisions.as_view(), name="revisions"),
    path("builds/<int:pk>/verdict/", workbench.verdict, name="verdict"),
    path("findings/", findings.every, name="findings"),
    path("findings/<slug:check>/", findings.one, name="finding"),
    path("copies/", copies.Copies.as_view(), name="copies"),
    path("copies/everything.zip", outward.everything, name="everything"),
    path("copies/<str:name>", copies.fetch, name="copy"),
    path("builds/<int:pk>/tables/<slug:name>.csv", outward.table, name="table"),
    path("builds/<int:pk>/drawings/<slug:name>.svg", outward.drawing, name="drawing"),
    path("builds/<int:pk>/sheet.html", outward.paper, name="paper"),
    path("builds/<int:pk>/log.csv", log.as_csv, name="log-csv"),
    path("builds/<int:pk>/log/<int:entry>/photo/", log.photo, name="log-photo"),
    path("builds/<int:pk>/file/", workbench.export, name="export"),
    path("builds/<int:pk>/version/", helpers.version, name="version"),
    *(
        path(f"builds/<int:pk>/{cls.page.address}", cls.as_view(), name=cls.page.name)
        for cls in every_page()
    ),
]
handler400, handler404, handler500 = errors.bad_request, errors.not_found, errors.broken
