// The rules of an emitter, edited as the sentences that they are.
#pragma once

#include "params/rule.h"
#include "session/document.h"

#include <QWidget>
#include <functional>
#include <map>
#include <tuple>
#include <vector>

class QComboBox;
class QLabel;
class QVBoxLayout;

namespace comet {

class NumberField;

class RuleEditor : public QWidget {
  Q_OBJECT

 public:
  // Of an emitter that exists as long as the editor.
  RuleEditor(Document& document, ItemId emitter, QWidget* parent = nullptr);

  void setRules(const RuleList& rules);

 Q_SIGNALS:
  void edited(const RuleList& rules);
  void finished();

 private:
  void rebuild();
  // Scrolls a panel that it is in so that the last rule is seen.
  void showEnd();
  void addRule(std::size_t rule);
  void addClause(std::size_t rule, bool isCondition, std::size_t clause, QVBoxLayout& rows);
  void addClauseFields(std::size_t rule, bool isCondition, std::size_t clause, QVBoxLayout& rows);
  void addItemBox(RuleItem what, std::size_t rule, bool isCondition, std::size_t clause, QLayout& row);
  void addTerms(std::size_t rule, QVBoxLayout& rows);
  NumberField* addNumber(const RuleField& look, QLayout& row);
  // The clauses of a rule: its conditions, or its actions.
  std::vector<RuleClause>& clauses(std::size_t rule, bool isCondition);
  // Chooses another kind for a clause.
  void setForm(std::size_t rule, bool isCondition, std::size_t clause, std::uint8_t form);
  // A change after which there are other fields.
  void change(const std::function<void()>& act);
  void changed();
  void showSentences();

  Document& document_;
  ItemId emitter_;
  RuleList rules_;
  // Clauses as they were before another kind was chosen for them, so that what was typed comes back with the
  // kind: by rule, whether it is a condition, its place, and its form.
  std::map<std::tuple<std::size_t, bool, std::size_t, std::uint8_t>, RuleClause> earlier_;
  QVBoxLayout* rows_;
  std::vector<QLabel*> sentences_;
  std::vector<std::function<void()>> refreshers_;
};

}  // namespace comet
