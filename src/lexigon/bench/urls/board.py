"""The addresses that the board uses, below ``job/<key>/``: its pages, edits, and what its drawers and dialogs ask."""

from django.urls import include, path

from lexigon.bench.views import board, fonts, listings, objects, overlays, people, pictures, setting, swatches

swatches_urls = [
    path("mix/", swatches.mix, name="swatch-mix"),
    path("chosen/", swatches.chosen, name="swatches-chosen"),
    path("printable-<int:light>.png", swatches.printable, name="printable"),
    path("picked/", swatches.picked, name="picked"),
    path("laid/", swatches.laid, name="gradient-laid"),
    path("typed/", swatches.typed, name="swatch-typed"),
    path("palette/", swatches.palette, name="palette"),
    path("palette/<str:form>", swatches.save_palette, name="save-palette"),
]

styles_urls = [
    path("", setting.styles, name="styles"),
    path("previews/", setting.previews, name="style-previews"),
    path("uses/", setting.uses, name="style-uses"),
    path("one/", setting.one_style, name="one-style"),
    path("line/", setting.style_line, name="style-line"),
    path("bring/", setting.bring, name="bring-styles"),
]

fonts_urls = [
    path("", fonts.listed, name="fonts"),
    path("add/", fonts.add, name="add-fonts"),
    path("own.css", fonts.css, name="own-fonts-css"),
    path("file/<str:name>", fonts.font_file, name="font-file"),
]

listings_urls = [
    path("", listings.listed, name="listings"),
    path("places/", listings.places, name="listing-places"),
    path("put/", listings.put_in, name="listing-put"),
    path("change/", listings.changed_on_board, name="listing-change"),
]

urlpatterns = [
    path("board/", board.board, name="board"),
    path("board/pages/", board.pages, name="board-pages"),
    path("history/touched/", board.touched, name="history-touched"),
    path("board/region/<str:page>/<str:region>.webp", board.region, name="board-region"),
    path("board/words/", board.words, name="board-words"),
    path("board/context/", board.context, name="board-context"),
    path("board/slips/", board.slips_ahead, name="board-slips"),
    path("overlay/", overlays.add, name="overlay-add"),
    path("overlay/<str:overlay>.png", overlays.picture, name="overlay-picture"),
    path("picture/<str:name>/page/", pictures.page, name="picture-page"),
    path("picture/<str:name>/palette/", pictures.palette, name="picture-palette"),
    path("framing/", pictures.framing, name="framing"),
    path("pictures/", pictures.add, name="pictures-add"),
    path("picture/<str:name>-<int:most>.webp", pictures.screen_picture, name="picture"),
    path("edits/", board.edits, name="edits"),
    path("spec/", setting.spec, name="spec"),
    path("texture/", setting.texture, name="texture"),
    path("nodes/", setting.nodes, name="nodes"),
    path("alike/", setting.alike, name="alike"),
    path("sample/", setting.sampled, name="sample"),
    path("remedies/", setting.remedies, name="remedies"),
    path("find/", setting.find, name="find"),
    path("fit/", setting.fit, name="fit"),
    path("here/", people.here, name="here"),
    path("share/", people.share, name="share"),
    path("share/role/", people.change_role, name="share-role"),
    path("unshare/", people.unshare, name="unshare"),
    path("undo/", board.undo, name="undo"),
    path("redo/", board.redo, name="redo"),
    path("history/", board.history, name="history"),
    path("go-back/", board.go_back, name="go-back"),
    path("versions/", board.keep_version, name="version-keep"),
    path("versions/<int:pk>/drop/", board.drop_version, name="version-drop"),
    path("copy/", board.copy, name="copy"),
    path("objects/drawing/", objects.drawing, name="objects-drawing"),
    path("tracing/", objects.tracing, name="tracing"),
    path("open-up/", objects.open_up, name="open-up"),
    path("trace/", objects.trace, name="trace"),
    path("objects/copy/", objects.copy, name="objects-copy"),
    path("paste/", board.paste, name="paste"),
    path("tables/<str:table>/", board.table, name="table"),
    path("tables/<str:table>/cells/", board.table_cells, name="table-cells"),
    path("tables/<str:table>/file/", board.table_file, name="table-file"),
    path("swatches/", include(swatches_urls)),
    path("styles/", include(styles_urls)),
    path("fonts/", include(fonts_urls)),
    path("listings/", include(listings_urls)),
]
