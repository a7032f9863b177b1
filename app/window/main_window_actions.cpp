// What the search finds beside controls: actions, influences to add, pages of the guide.
#include "catalog.h"
#include "grid/influence_popup.h"
#include "theme/words.h"
#include "viewport/compare_bar.h"
#include "window/find_control.h"
#include "window/guide_view.h"
#include "window/main_window.h"
#include "window/shortcuts.h"

#include <QAbstractButton>

namespace comet {

std::vector<FoundAction> MainWindow::actions() {
  const auto press = [this](Page page, const char* button) {
    showPage(page);
    if (auto* found = findChild<QAbstractButton*>(button); found && found->isEnabled()) found->click();
  };
  const QString action = tr("Action");
  std::vector<FoundAction> all{
      {action, tr("Play or pause"), tr("Space"), [this] { playback_.toggle(); }},
      {action, tr("Undo"), tr("Ctrl+Z"), [this] { document_.undo(); }},
      {action, tr("Redo"), tr("Ctrl+Shift+Z"), [this] { document_.redo(); }},
      {action, tr("New scene"), tr("Ctrl+N"), [this] { newScene(); }},
      {action, tr("Open a scene"), tr("Ctrl+O"), [this] { chooseAndOpen(); }},
      {action, tr("Save"), tr("Ctrl+S"), [this] { save(); }},
      {action, tr("Save under another name"), tr("Ctrl+Shift+S"), [this] { saveAs(); }},
      {action, tr("Set or clear start state"), tr("The scene begins with the particles of this frame."),
       [press] { press(Shape, "start_state"); }},
      {action, tr("Move camera to this view"), {}, [press] { press(Shape, "take_view"); }},
      {action, tr("Fit the view to the effect"), "W", [press] { press(Shape, "fit"); }},
      {action, tr("Fold or open the left column"), "F2", [press] { press(Shape, "fold_left"); }},
      {action, tr("Fold or open the timeline and the life chart"), "F3",
       [press] { press(Shape, "fold_lower"); }},
      {action, tr("Keep a snapshot"),
       tr("Keeps the scene as it is now, to compare with or go back to (Shift+C)."),
       [press] { press(Shape, "snapshot"); }},
      {action, tr("Compare with a snapshot"), "C",
       [this] {
         showPage(Shape);
         compare_->toggle();
       }},
      {action, tr("Add emitter"), {}, [press] { press(Shape, "add_emitter"); }},
      {action, tr("Add a preset"), tr("Shows the presets, with their moving pictures."),
       [press] { press(Shape, "add_preset"); }},
      {action, tr("Add gas"), tr("Adds a box of smoke, steam or fog, with a source that fills it."),
       [press] { press(Shape, "add_gas"); }},
      {action, tr("Add fire or flat gas"),
       tr("Adds fire, or 2D gas, which moves in one plane, or lets a picture flow."),
       [press] { press(Shape, "add_other_gas"); }},
      {action, tr("Add light"), tr("Adds a point light, which can flicker and follow particles."),
       [press] { press(Shape, "add_light"); }},
      {action, tr("Bake flipbook"), tr("Draws all cells of the flipbook."),
       [press] { press(Bake, "bake_start"); }},
      {action, tr("Fit view of the bake"), {}, [press] { press(Bake, "bake_fit"); }},
      {action, tr("Export flipbook"), tr("Writes the sheets and their description into the folder."),
       [press] { press(Bake, "bake_write"); }},
      {action, tr("Use flipbook in a new scene"),
       tr("Exports the flipbook and opens a scene whose sprites play it, as in a game."),
       [press] { press(Bake, "bake_use"); }},
      {action, tr("Export particles, trails, links, surfaces and cards"),
       tr("Export data as files: CSV, PLY, OpenVDB, USD, OBJ."),
       [this] {
         showPage(Bake);
         findChild<QWidget*>("data_what")->setFocus();
       }},
      {action, tr("Keys and gestures"), tr("Lists all shortcuts."), [this] { shortcuts_->toggle(); }},
      {action, tr("Guide"), tr("Opens the user guide."), [this] { guide_->open("README.md"); }}};
  for (const KindSpec* kind : catalog().kindsOf(ItemFamily::Influence))
    all.push_back({tr("Add influence"), text(kind->label()), text(kind->tip()), [this, kind] {
                     showPage(Shape);
                     addInfluence(document_, *kind);
                   }});
  for (const GuidePage& page : guidePages())
    all.push_back({tr("Guide"), page.title, page.opening, [this, file = page.file] { guide_->open(file); }});
  return all;
}

}  // namespace comet
