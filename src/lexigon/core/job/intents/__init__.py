"""What a person does, as data: each intent checks itself and expands into primitive edits.

The web view, the command line and the tests change a job through these (and the undo log through
their primitives). ``label`` is the line in the history list. One module a subject; nothing here composes.
"""

from __future__ import annotations

from typing import Annotated, Any, Union

from pydantic import Field

from lexigon.core.job.intents.along import PutAlong
from lexigon.core.job.intents.anchors import AddInlay, AddNote, SetInlayPlace
from lexigon.core.job.intents.arranging import (
    AlignObjects,
    FillArea,
    MatchSizes,
    MoveObjects,
    OrderObjects,
    Resized,
    SizeObjects,
    SpreadObjects,
)
from lexigon.core.job.intents.cells import (
    Cells,
    ClearCells,
    JoinCells,
    PartCells,
    PutInCells,
    SetCells,
    SetCellWords,
    SetColumns,
    ShowInCell,
    TakeOutCells,
)
from lexigon.core.job.intents.chosen import Chosen
from lexigon.core.job.intents.codes import AddCode, SetCode
from lexigon.core.job.intents.combining import CombineShapes, OffsetShapes, PartShapes
from lexigon.core.job.intents.copies import PutCopy, RemoveCopy
from lexigon.core.job.intents.copying import (
    DuplicateObjects,
    ObjectClip,
    PasteObjects,
    RepeatObjects,
    RepeatRound,
    clip_of,
)
from lexigon.core.job.intents.drawings import AddDrawing
from lexigon.core.job.intents.flowing import CutStory, GrowStory, LinkFrames, UnlinkFrame
from lexigon.core.job.intents.fonts import AddFont, RemoveFont
from lexigon.core.job.intents.frames import (
    AddRule,
    AddShape,
    AddTextFrame,
    ChangeFrame,
    RemoveFrame,
    TakeOver,
)
from lexigon.core.job.intents.grouping import ChangeGroup, CutOff, GroupObjects, Ungroup
from lexigon.core.job.intents.guides import DivideByGuides, PutGuides, PutPageGrid
from lexigon.core.job.intents.inks import AddSwatches, MoveSwatch, NameSwatchGroup, PutSwatch, RemoveSwatch
from lexigon.core.job.intents.inksets import AddInkSet, ChooseInkSet, PutInkSet, RemoveInkSet
from lexigon.core.job.intents.joining import JoinTexts
from lexigon.core.job.intents.layers import AddLayer, ChangeLayer, MoveLayer, PutOnLayer, RemoveLayer
from lexigon.core.job.intents.listings import PlaceListing, PutListing, RemoveListing, UpdateListing
from lexigon.core.job.intents.markings import (
    DoMarking,
    ForgetWord,
    LearnWord,
    MoveMarking,
    PutMarking,
    RemoveMarking,
    SwitchMarking,
)
from lexigon.core.job.intents.masters import (
    AddMaster,
    BringMasters,
    ChangeMaster,
    DuplicateMaster,
    MasterFromPage,
    RemoveMaster,
)
from lexigon.core.job.intents.notekinds import PutNoteKind, RemoveNoteKind, SetNoteKind
from lexigon.core.job.intents.outlines import GlyphShapes, OutlineText
from lexigon.core.job.intents.overlays import PutOverlay, RemoveOverlay
from lexigon.core.job.intents.pages import (
    AddPages,
    ApplyMaster,
    DeletePages,
    DuplicatePages,
    MovePages,
    NumberPages,
    PutSection,
)
from lexigon.core.job.intents.pasting import InsertRich
from lexigon.core.job.intents.paths import AddFreehand, AddPath, EditNodes, SmoothPath
from lexigon.core.job.intents.pictures import (
    AddPicture,
    AdjustPictures,
    ChangePicture,
    FramePicture,
    PlacePicture,
    RemovePictures,
    ShowPicture,
)
from lexigon.core.job.intents.reading import PutReading
from lexigon.core.job.intents.recolouring import ExchangeSwatches
from lexigon.core.job.intents.rewriting import Rewrite
from lexigon.core.job.intents.setup import ChangeBrief, FoldOut, PanelMove, PutPaper, RemovePaper
from lexigon.core.job.intents.stacking import StackObjects
from lexigon.core.job.intents.styles import BringStyles, PutStyle, RedefineStyle, RemoveStyle
from lexigon.core.job.intents.tables import (
    AddTable,
    AddTableRow,
    ChangeTable,
    FillCells,
    PutTableStyle,
    RefreshTable,
    RemoveTableStyle,
    SortTable,
)
from lexigon.core.job.intents.terms import MarkTerm, MarkTerms, PutTerm, RemoveTerm
from lexigon.core.job.intents.text import (
    FormatText,
    InsertField,
    MoveParagraphs,
    MoveText,
    Place,
    PourText,
    ReplaceText,
    SetParagraphs,
    locate,
)
from lexigon.core.job.intents.tracing import TracePicture
from lexigon.core.job.intents.transforming import SwapPlaces, TransformObjects
from lexigon.core.job.serial import read

Intent = Union[
    MoveParagraphs, PutMarking, SwitchMarking, MoveMarking, RemoveMarking, DoMarking, LearnWord, ForgetWord, ReplaceText, Rewrite, InsertField, InsertRich, MoveText, SetParagraphs, FormatText, PourText, AddTextFrame, AddShape, ChangeFrame, TakeOver, RemoveFrame,
    LinkFrames, UnlinkFrame, CutStory, GrowStory, AddPages, DuplicatePages, MovePages, DeletePages, ApplyMaster, NumberPages, PutSection,
    AddMaster, DuplicateMaster, MasterFromPage, ChangeMaster, RemoveMaster, BringMasters, ChangeBrief, FoldOut, PutStyle,
    RedefineStyle, RemoveStyle, BringStyles, PutPaper, RemovePaper, PutCopy, RemoveCopy, PutOverlay, RemoveOverlay, OutlineText, AddFont, RemoveFont,
    GroupObjects, CutOff, ChangeGroup, Ungroup, AddLayer, ChangeLayer, MoveLayer, RemoveLayer, PutOnLayer,
    AddNote, AddInlay, SetInlayPlace, AddPicture, PlacePicture, ShowPicture, FramePicture, ChangePicture, RemovePictures, AddCode, SetCode,
    MoveObjects, AlignObjects, SpreadObjects, MatchSizes, SizeObjects, FillArea, OrderObjects, DuplicateObjects, RepeatObjects, PasteObjects, AddRule, PutGuides, DivideByGuides, PutPageGrid, PutReading, AddSwatches, NameSwatchGroup,
    PutSwatch, MoveSwatch, RemoveSwatch, AddPath, AddFreehand, EditNodes, SmoothPath, CombineShapes, PartShapes, OffsetShapes,
    PutNoteKind, RemoveNoteKind, SetNoteKind, SortTable, PutTableStyle, RemoveTableStyle, MarkTerm, MarkTerms, PutTerm, RemoveTerm, AddTable, ChangeTable, PutListing, RemoveListing, PlaceListing, UpdateListing, AddTableRow, FillCells, RefreshTable, SetCells, SetCellWords, SetColumns, ShowInCell, PutInCells, TakeOutCells, JoinCells, PartCells, ClearCells, TransformObjects, SwapPlaces, JoinTexts, RepeatRound, StackObjects, PutAlong, AddDrawing, AdjustPictures, AddInkSet, PutInkSet, ChooseInkSet, RemoveInkSet, ExchangeSwatches, TracePicture,
]  # fmt: skip
AnyIntent = Annotated[Intent, Field(discriminator="do")]


def intent_from_plain(data: Any) -> Intent:
    """Validate an intent that came from outside. Raises FormError."""
    result: Intent = read(AnyIntent, data)
    return result


__all__ = [
    "AdjustPictures", "AddInkSet", "PutInkSet", "ChooseInkSet", "RemoveInkSet", "ExchangeSwatches", "TracePicture",
    "AddFont", "RemoveFont", "AddMaster", "AddPages", "AddShape", "AddTextFrame", "ApplyMaster", "BringMasters", "ChangeBrief", "ChangeFrame", "ChangeMaster", "CutStory", "GlyphShapes", "GrowStory", "OutlineText",
    "BringStyles", "PutStyle", "RedefineStyle", "RemoveStyle", "DeletePages", "DuplicateMaster", "DuplicatePages", "FoldOut", "FormatText", "InsertField", "InsertRich", "Intent", "MoveText", "LinkFrames",
    "MasterFromPage", "MovePages", "NumberPages", "PanelMove", "Place", "PourText", "PutCopy", "PutOverlay", "PutPaper", "PutSection", "RemoveCopy",
    "SortTable", "PutTableStyle", "RemoveTableStyle", "PutNoteKind", "RemoveNoteKind", "SetNoteKind", "MarkTerm", "MarkTerms", "PutTerm", "RemoveTerm", "AddTable", "AddTableRow", "FillCells", "RefreshTable", "Cells", "SetCells", "SetCellWords", "SetColumns", "ShowInCell", "PutInCells", "TakeOutCells", "JoinCells", "PartCells", "ClearCells", "ChangeTable", "PlaceListing", "PutListing", "RemoveListing", "UpdateListing", "RemoveFrame", "RemoveMaster", "RemoveOverlay", "RemovePaper", "ReplaceText", "Rewrite", "MoveParagraphs", "PutMarking", "SwitchMarking", "MoveMarking", "RemoveMarking", "DoMarking", "LearnWord", "ForgetWord", "SetParagraphs", "TakeOver", "UnlinkFrame",
    "AddPath", "AddFreehand", "EditNodes", "SmoothPath", "CombineShapes", "PartShapes", "OffsetShapes", "AddDrawing", "PutAlong", "StackObjects", "RepeatRound", "TransformObjects", "SwapPlaces", "JoinTexts", "AddRule", "DivideByGuides", "PutGuides", "PutPageGrid", "PutReading", "AddSwatches", "NameSwatchGroup", "PutSwatch", "MoveSwatch", "RemoveSwatch", "AlignObjects", "DuplicateObjects", "FillArea", "MatchSizes", "MoveObjects", "ObjectClip", "OrderObjects", "PasteObjects", "RepeatObjects", "Resized", "SizeObjects", "SpreadObjects", "clip_of", "AddCode", "SetCode", "AddInlay", "AddNote", "SetInlayPlace", "AddPicture", "ChangePicture", "FramePicture", "PlacePicture", "RemovePictures", "ShowPicture", "AddLayer", "ChangeLayer", "Chosen", "GroupObjects", "CutOff", "ChangeGroup", "MoveLayer", "PutOnLayer", "RemoveLayer", "Ungroup", "intent_from_plain", "locate",
]  # fmt: skip
