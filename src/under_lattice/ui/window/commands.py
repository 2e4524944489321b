"""All commands in one table: menu, shortcuts and the command search are made from it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Command:
    """One command.

    Attributes
    ----------
    key : str
        Names the function that does it.
    words : str
        In the menu and the search.
    menu : str
        The menu it stands in.
    shortcut : str
        Keys that do it, parted by spaces; the first is shown.
    search : str
        Everyday words that find it.
    checkable : bool
        It is a switch.
    """

    key: str
    words: str
    menu: str
    shortcut: str = ""
    search: str = ""
    checkable: bool = False


COMMANDS: tuple[Command, ...] = (
    Command("book", "Pattern book", "Work", "Ctrl+N Ctrl+W", "close new start blank home"),
    Command("open", "Open…", "Work", "Ctrl+O", "load file"),
    Command("save", "Save", "Work", "Ctrl+S", "store keep file"),
    Command("save_as", "Save as…", "Work", "Ctrl+Shift+S", "copy file name"),
    Command("export", "Export…", "Work", "Ctrl+E", "svg png picture vector print"),
    Command("export_again", "Export again", "Work", "Ctrl+Shift+E", "same file once more last repeat output"),
    Command("plot", "Plot…", "Work", "", "pen plotter hpgl draw machine serial port"),
    Command("sheet", "Sheet…", "Work", "Ctrl+J", "size page paper unit background grid canvas millimetre"),
    Command("sheet_like_picture", "Sheet in the proportions of the picture", "Work", "", "size aspect ratio photo canvas fit crop"),
    Command("bring", "Import drawing or picture…", "Work", "Ctrl+I", "bring in svg png jpeg webp vector place insert"),
    Command("book_put", "Put into the pattern book…", "Work", "Ctrl+Shift+B", "recipe save preset library motif palette cell"),
    Command("book_take", "From the pattern book…", "Work", "Ctrl+Shift+R", "recipe apply preset library motif palette"),
    Command("rename_work", "Name and commission…", "Work", "", "title rename"),
    Command("recover", "Works not saved before…", "Work", "", "recover crash autosave lost restore"),
    Command("print", "Print…", "Work", "Ctrl+P", "paper printer"),
    Command("new_window", "New window", "Work", "Ctrl+Shift+N", "another second"),
    Command("about", "About Under Lattice", "Work", "", "version licence"),
    Command("quit", "Quit", "Work", "Ctrl+Q", "close exit"),
    Command("undo", "Undo", "Edit", "Ctrl+Z", "back"),
    Command("redo", "Redo", "Edit", "Ctrl+Shift+Z Ctrl+Y", "forward again"),
    Command("history", "Steps, as pictures…", "Edit", "Ctrl+H", "history undo list back timeline"),
    Command("take_colour", "Take a colour from the sheet", "Edit", "I", "loupe pick eye sample magnifier"),
    Command("copy", "Copy: the focused rule or layer, else the picture", "Edit", "Ctrl+C", "clipboard"),
    Command("copy_picture", "Copy the picture", "Edit", "Ctrl+Shift+C", "clipboard image"),
    Command("paste", "Paste", "Edit", "Ctrl+V", "clipboard svg import insert drawing picture rule layer"),
    Command("recolour", "Recolour…", "Edit", "Ctrl+Shift+H", "colours replace palette hue shift swap all everywhere"),
    Command("find", "Find…", "Edit", "F1", "search help command"),
    Command("add_rule", "Add a rule…", "Chain", "Ctrl+Return", "insert step repeat"),
    Command("duplicate_rule", "Duplicate rule", "Chain", "Ctrl+D", "copy twice"),
    Command("switch_rule", "Switch rule on or off", "Chain", "Ctrl+B", "bypass disable hide"),
    Command("rename_rule", "Rename rule…", "Chain", "F2", "name"),
    Command("rule_up", "Move rule up", "Chain", "Alt+PgUp", "order earlier"),
    Command("rule_down", "Move rule down", "Chain", "Alt+PgDown", "order later"),
    Command("remove_rule", "Remove rule", "Chain", "", "delete"),
    Command("touch_copy", "Touch up this copy", "Chain", "Ctrl+T", "move one single copy by hand recolour exception"),
    Command("touch_alike", "Touch up this copy in every repeat", "Chain", "", "same place everywhere by hand"),
    Command("leave_out_copy", "Leave this copy out", "Chain", "Ctrl+Delete", "remove hide single copy by hand"),
    Command("draw_line", "Draw a line on the sheet", "Chain", "Ctrl+L", "freehand pen pencil curve"),
    Command("add_point", "Add a point at the pointer", "Chain", "Alt+A", "insert node vertex outline"),
    Command("remove_point", "Remove the picked point", "Chain", "", "delete node vertex outline"),
    Command("smooth_point", "Make the picked point smooth", "Chain", "Alt+S", "node round curve"),
    Command("straight_point", "Make the picked point straight", "Chain", "Alt+T", "node corner sharp"),
    Command("choose_start", "Presets of this rule…", "Chain", "", "begin start as row stack whirl coil drift chain jitter squeeze"),
    Command("choose_motif", "Change motif…", "Chain", "Ctrl+M", "exchange shape star ring spiral swap replace"),
    Command("choose_group", "Choose the symmetry group by its picture…", "Chain", "", "wallpaper frieze seventeen"),
    Command("add_layer", "Add a layer…", "Layer", "", "new"),
    Command("add_shape", "Add a single shape", "Layer", "", "new one disc rectangle plain"),
    Command("add_words", "Add a line of lettering", "Layer", "", "new text words type"),
    Command("add_veil", "Add a veil", "Layer", "", "new adjustment tone blur finish over everything beneath"),
    Command("fill_layer", "Fill this shape with a layer…", "Layer", "", "clip inside stencil window"),
    Command("duplicate_layer", "Duplicate layer", "Layer", "", "copy"),
    Command("link_layer", "Duplicate layer, linked", "Layer", "", "copy follow clone instance same"),
    Command("unlink_layer", "Unlink layer", "Layer", "", "own apart copy"),
    Command("rename_layer", "Rename layer…", "Layer", "", "name"),
    Command("hide_layer", "Hide or show layer", "Layer", "", "visible eye"),
    Command("lock_layer", "Lock or unlock layer", "Layer", "", "protect"),
    Command("alone_layer", "Show layer alone, or all again", "Layer", "Ctrl+Shift+A", "solo isolate only this hide others"),
    Command("paint_mask", "Paint the mask of the layer", "Layer", "Ctrl+Shift+M", "brush soft erase hide stencil"),
    Command("show_mask", "Show or stop showing what the mask hides", "Layer", "Alt+M", "overlay veil see hidden"),
    Command("choose_blend", "Choose the blend of the layer by its picture…", "Layer", "", "mode multiply screen overlay mix"),
    Command("main_layer", "Open the work on this layer", "Layer", "", "main begin first chosen"),
    Command("layer_front", "Move layer to the front", "Layer", "", "above top order"),
    Command("layer_back", "Move layer to the back", "Layer", "", "below bottom order"),
    Command("group_layer", "Group layer with the one behind it", "Layer", "Ctrl+G", "combine folder together"),
    Command("ungroup_layer", "Ungroup", "Layer", "Ctrl+Shift+G", "apart dissolve"),
    Command("take_out_layer", "Take layer out of its group", "Layer", "", "leave"),
    Command("compound", "Make layer or group the motif of a new layer", "Layer", "", "compound symbol reuse nested linked"),
    Command("source_layer", "Use layer as source only, or paint it", "Layer", "", "guide hidden helper"),
    Command("freeze", "Freeze layer into separate shapes", "Layer", "", "expand flatten outlines bake"),
    Command("remove_layer", "Remove layer", "Layer", "", "delete"),
    Command("keep", "Keep this version", "Explore", "Ctrl+K", "save state snapshot shelf version bookmark"),
    Command("deal", "Deal siblings again", "Explore", "Ctrl+R", "random variation what if surprise shuffle dice"),
    Command("go_siblings", "Go to the siblings", "Explore", "Ctrl+7", "tray focus variations"),
    Command("siblings_layer", "Siblings of the layer alone", "Explore", "", "random variation"),
    Command("siblings_rule", "Siblings of the open rule alone", "Explore", "", "random variation"),
    Command("strip", "Test strip", "Explore", "Ctrl+4", "contact sheet compare steps series grid matrix", checkable=True),
    Command("compare", "Compare with the last kept version", "Explore", "Ctrl+5", "wipe before after split", checkable=True),
    Command("difference", "Difference from the last kept version", "Explore", "", "compare", checkable=True),
    Command("lock_rule", "Lock or unlock the open rule", "Explore", "", "hold protect variations"),
    Command("lock_but", "Lock all but the open rule", "Explore", "", "hold protect variations"),
    Command("unlock_all", "Unlock all", "Explore", "", "free release"),
    Command("play", "Play or stop", "Loop", "F8", "animate animation run preview moving time"),
    Command("string", "String of time: what moves", "Loop", "Ctrl+9", "timeline keyframes animation beads"),
    Command("record", "Record, or stop recording", "Loop", "", "keyframes hang while turning automatic"),
    Command("next_moment", "A picture on", "Loop", "Ctrl+.", "frame step forward"),
    Command("last_moment", "A picture back", "Loop", "Ctrl+,", "frame step backward"),
    Command("to_begin", "To the beginning of the loop", "Loop", "Ctrl+Home", "rewind start"),
    Command("film", "Export the loop…", "Loop", "", "film video gif webm animation movie frames sequence"),
    Command("tray", "Tray: siblings and kept versions", "View", "Ctrl+6", "panel right side variations", checkable=True),
    Command("column", "Chain: layers and rules", "View", "F9", "hide column panel left side bar", checkable=True),
    Command("bones", "Outlines only", "View", "Ctrl+1", "wireframe lines bones skeleton", checkable=True),
    Command("handles", "Handles on the sheet", "View", "Ctrl+2", "pivot arrows", checkable=True),
    Command("grid", "Construction grid", "View", "Ctrl+3", "snap raster", checkable=True),
    Command("repeat", "Repeat check", "View", "Ctrl+8", "cell tile seamless seams swatch half-drop brick", checkable=True),
    Command("whole", "Show the whole sheet", "View", "Home Ctrl+0", "fit zoom all"),
    Command("true_size", "Show true size", "View", "End", "zoom 100 actual"),
    Command("zoom_in", "Zoom in", "View", "Ctrl++ Ctrl+=", "larger closer"),
    Command("zoom_out", "Zoom out", "View", "Ctrl+-", "smaller away"),
    Command("full_screen", "Full screen", "View", "F11", "whole monitor maximise", checkable=True),
    Command("light", "Light", "View", "", "theme bright day", checkable=True),
    Command("dark", "Dark", "View", "", "theme night", checkable=True),
    Command("as_desktop", "Light or dark as the desktop", "View", "", "theme system", checkable=True),
)
MENUS: tuple[str, ...] = tuple(dict.fromkeys(command.menu for command in COMMANDS))
THEMES = {"light": "light", "dark": "dark", "as_desktop": "desktop"}
EVERYWHERE = frozenset(  # also on the first page
    {"book", "open", "bring", "paste", "recover", "new_window", "about", "full_screen", "quit", "find", *THEMES}
)
