// Chooses presets: by category, by search, or by their moving pictures.
#pragma once

#include "presets/offered_presets.h"
#include "session/background_answer.h"
#include "session/document.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;

namespace comet {

class PresetTiles;

class PresetPanel : public QWidget {
  Q_OBJECT

 public:
  explicit PresetPanel(Document& document, QWidget* parent = nullptr);

  // Of those that are offered.
  void add(std::size_t preset);
  // Moved to a place of the scene, or, on an item with a mesh, born there.
  void addAt(std::size_t preset, const Vec3d& place, ItemId meshItem);
  // An emitter of the scene becomes one of the user's own.
  void keep(ItemId emitter);
  // While what is selected is what it has just added.
  bool isAdding() const { return isAdding_; }

 Q_SIGNALS:
  void closed();
  void failed(const QString& problem);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void read();
  void take(const std::vector<OfferedPreset>& offered);
  void refill();
  void showMenu(std::size_t preset, const QPoint& place);
  void saveAs(const Preset& preset);
  void importFile();
  void edit(const Merged& merged);

  Document& document_;
  std::vector<OfferedPreset> offered_;
  QLineEdit* search_;
  QComboBox* category_;
  QLabel* note_;
  PresetTiles* tiles_;
  bool isAdding_ = false;
  BackgroundAnswer<std::vector<OfferedPreset>> reading_;
};

}  // namespace comet
