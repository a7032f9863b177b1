// How the panels of the effect share the window: the left column folds to marks and the lower panels to the
// ruler, one panel can fill all of it, and what was chosen is remembered.
#pragma once

#include <QSplitter>
#include <vector>

namespace comet {

class GridPanel;
class MarkStrip;
class Timeline;

class EffectLayout : public QSplitter {
  Q_OBJECT

 public:
  struct Panels {
    GridPanel* grid;
    QWidget* inspector;
    MarkStrip* marks;  // in the place of those two while they are folded
    QWidget* view;
    Timeline* timeline;
    QWidget* lifeChart;
  };

  // Takes the panels over.
  explicit EffectLayout(const Panels& panels, QWidget* parent = nullptr);

  enum class Part { LeftColumn, LowerPanels };
  bool isFolded(Part part) const { return folded_[indexOf(part)]; }
  void setFolded(Part part, bool folded);
  void toggleFolded(Part part) { setFolded(part, !isFolded(part)); }
  // Brings it into sight, whatever hides it.
  void open(Part part);

  // The panel under the pointer fills all, or what it hides comes back.
  void toggleFullPanel();

 Q_SIGNALS:
  void foldedChanged();

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  static std::size_t indexOf(Part part) { return static_cast<std::size_t>(part); }
  void restore();
  void remember() const;
  // Shows what is neither folded nor hidden by a panel that fills all.
  void arrange();
  // As high as the grid's rows need, within what the user leaves them.
  void fitGrid();

  Panels panels_;
  QSplitter* left_;
  QSplitter* right_;
  QSplitter* lower_;
  bool folded_[2] = {};
  QWidget* full_ = nullptr;  // the panel that fills all, if one does
  int lowerHeight_;          // while they are not folded
  int gridLimit_ = 0;        // how high the user lets the grid be; 0 for a part of the column
};

}  // namespace comet
