"""The layers of a warm-up as rows that are edited in place."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QPushButton, QWidget

from oddbolt.core.reference.tables import materials
from oddbolt.core.study import Layer
from oddbolt.core.study.preparation import LAYER_ROLES
from oddbolt.desk.widgets.inputs import ChoiceField, LineField, empty

ROLE_WORDS = {"": "", "cover": "cover", "glue": "glue line", "gap": "gap", "guarded": "keep cool"}


class LayerStack(QWidget):
    """Layers from the heater inwards. ``edited`` gives a layer's id, the field and what was typed; ``previewed`` a
    thickness while it is typed."""

    edited = Signal(str, str, str)
    previewed = Signal(str, str)
    picked = Signal(str)
    added = Signal()
    dropped = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.ids: list[str] = []
        self.rows: dict[str, tuple[ChoiceField, LineField, ChoiceField]] = {}
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 2, 0, 2)
        self.grid.setVerticalSpacing(1)
        self.grid.setHorizontalSpacing(6)
        self.grid.setColumnStretch(0, 1)
        self.setAccessibleName("Layers from the heater inwards")

    def show_layers(self, layers: list[Layer]) -> None:
        """Show these layers; fields that are being typed in keep their text."""
        if [layer.id for layer in layers] != self.ids:
            self._build(layers)
        for layer in layers:
            material, thickness, role = self.rows[layer.id]
            material.set_shown(layer.material)
            thickness.set_shown(f"{layer.thickness_mm:g} mm")
            role.set_shown(layer.role)

    def _build(self, layers: list[Layer]) -> None:
        empty(self.grid)
        self.ids = [layer.id for layer in layers]
        self.rows = {}
        for n, layer in enumerate(layers):
            material, thickness = ChoiceField(tuple(materials())), LineField()
            role = ChoiceField(LAYER_ROLES)
            for index in range(role.count()):
                role.setItemText(index, ROLE_WORDS[str(role.itemData(index))] or "–")
            for choice in (material, role):
                choice.setMinimumContentsLength(6)
                choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            thickness.setObjectName("figure")
            thickness.setFixedWidth(54)
            material.setAccessibleName(f"layer {n + 1} material")
            thickness.setAccessibleName(f"layer {n + 1} thickness")
            role.setAccessibleName(f"layer {n + 1} role")
            material.entered.connect(partial(self.edited.emit, layer.id, "material"))
            thickness.entered.connect(partial(self.edited.emit, layer.id, "thickness_mm"))
            thickness.textEdited.connect(partial(self.previewed.emit, layer.id))
            role.entered.connect(partial(self.edited.emit, layer.id, "role"))
            away = QPushButton("×")
            away.setObjectName("link")
            away.setAccessibleName(f"delete layer {n + 1}")
            away.setFixedWidth(16)
            away.clicked.connect(partial(self.dropped.emit, layer.id))
            for column, widget in enumerate((material, thickness, role, away)):
                self.grid.addWidget(widget, n, column)
            self.rows[layer.id] = (material, thickness, role)
        more = QPushButton("Add a layer")
        more.setObjectName("link")
        more.clicked.connect(self.added.emit)
        self.grid.addWidget(more, len(layers), 0)
