"""Addresses."""

from django.urls import path, register_converter

from workbench.views import (
    barriers,
    boards,
    channel,
    copies,
    dimming,
    drawer,
    errors,
    findings,
    helpers,
    inputs,
    intake,
    mains,
    module_sheet,
    pins,
    rails,
    revisions,
    states,
    stations,
    variants,
    wiring,
    workbench,
)


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
    path("builds/<int:pk>/", stations.LineUp.as_view(), name="lineup"),
    path("builds/<int:pk>/loads/", stations.Loads.as_view(), name="loads"),
    path("builds/<int:pk>/step-in/", stations.StepIn.as_view(), name="step-in"),
    path("builds/<int:pk>/at-hand/", stations.AtHand.as_view(), name="at-hand"),
    path("builds/<int:pk>/stages/", stations.Stages.as_view(), name="stages"),
    path("builds/<int:pk>/sizes/", stations.Sizes.as_view(), name="sizes"),
    path("builds/<int:pk>/rails/", rails.Rails.as_view(), name="rails"),
    path("builds/<int:pk>/pins/", pins.Pins.as_view(), name="pins"),
    path("builds/<int:pk>/variants/", variants.Variants.as_view(), name="variants"),
    path("builds/<int:pk>/inputs/", inputs.Inputs.as_view(), name="inputs"),
    path("builds/<int:pk>/states/", states.States.as_view(), name="states"),
    path("builds/<int:pk>/barriers/", barriers.Barriers.as_view(), name="barriers"),
    path("builds/<int:pk>/mains/", mains.Mains.as_view(), name="mains"),
    path("builds/<int:pk>/wiring/", wiring.Wiring.as_view(), name="wiring"),
    path("builds/<int:pk>/keeping/", stations.Keeping.as_view(), name="keeping"),
    path("builds/<int:pk>/revisions/", revisions.Revisions.as_view(), name="revisions"),
    path("builds/<int:pk>/verdict/", workbench.verdict, name="verdict"),
    path("findings/", findings.every, name="findings"),
    path("findings/<slug:check>/", findings.one, name="finding"),
    path("copies/", copies.Copies.as_view(), name="copies"),
    path("copies/<str:name>", copies.fetch, name="copy"),
    path("builds/<int:pk>/sheet/", stations.Sheet.as_view(), name="sheet"),
    path("builds/<int:pk>/file/", workbench.export, name="export"),
    path("builds/<int:pk>/version/", helpers.version, name="version"),
    path(
        "builds/<int:pk>/channels/<slug:channel>/advisor/",
        stations.Advisor.as_view(),
        name="advisor",
    ),
    path(
        "builds/<int:pk>/channels/<slug:channel>/dimming/",
        dimming.Dimming.as_view(),
        name="dimming",
    ),
    path(
        "builds/<int:pk>/channels/<slug:channel>/spread/",
        stations.SpreadPage.as_view(),
        name="spread",
    ),
    path("builds/<int:pk>/channels/<slug:channel>/", channel.ChannelPage.as_view(), name="channel"),
]
handler400, handler404, handler500 = errors.bad_request, errors.not_found, errors.broken
