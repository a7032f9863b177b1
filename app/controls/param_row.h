// One parameter of an item: label, fields for its value and variation, key mark. Made from the parameter's
// table.
#pragma once

#include "controls/key_mark.h"
#include "session/document.h"

#include <QWidget>
#include <functional>
#include <string>
#include <vector>

class QLabel;
class QHBoxLayout;

namespace comet {

class NumberField;

class ParamRow : public QWidget {
  Q_OBJECT

 public:
  // For parameter `index` of an item that exists as long as the row.
  ParamRow(Document& document, ItemId item, std::size_t index, QWidget* parent = nullptr);

  const ParamSpec& spec() const { return spec_; }
  // Shows what the document holds now.
  void refresh();
  // Puts the keyboard on the first field, as after a search.
  void takeFocus();

 Q_SIGNALS:
  // Several values of a number are to be seen side by side.
  void valuesWanted(comet::ItemId item, const QString& param);

 private:
  const ParamValue& value() const;
  QString mergeKey() const;
  void addFields(QHBoxLayout& row);
  void addNumbers(QHBoxLayout& row);
  void addFormula(NumberField& number);
  void addChoice(QHBoxLayout& row);
  void addSwatch(QHBoxLayout& row);
  void addVector(QHBoxLayout& row);
  void addText(QHBoxLayout& row);
  void addCurve(QHBoxLayout& row);
  void addFile(QHBoxLayout& row);
  void addStrokes(QHBoxLayout& row);
  void addReference(QHBoxLayout& row);
  void addRules(QHBoxLayout& row);
  void addData(QHBoxLayout& row);
  void addFollow(QHBoxLayout& row);
  // Names that a text may be.
  std::vector<std::string> suggestions() const;
  void addKeyMark(QHBoxLayout& row);
  void addMenu();
  NumberField* addNumber(QHBoxLayout& row, const QString& prefix, double min, double max);
  void toggleKey();
  void showKeyMenu(const QPoint& position);

  Document& document_;
  ItemId item_;
  std::size_t index_;
  const ParamSpec& spec_;
  QWidget* first_ = nullptr;
  KeyMark* keyMark_ = nullptr;
  std::vector<std::function<void(const ParamValue&)>> refreshers_;
};

}  // namespace comet
