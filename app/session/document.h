// The scene that is being edited, with its history, its file, and what the user looks at.
//
// An edit hands over a new scene; the document keeps the old one for undo. Edits with the same merge key are
// one step of the history until the merge is ended, as a control does when the hand lets go. Frames that pass
// meanwhile end no merge: a drag while the effect plays is undone as a whole.
#pragma once

#include "readers/file_reader.h"
#include "scene/scene.h"
#include "session/time_display.h"

#include <QObject>
#include <QString>
#include <QThreadPool>
#include <map>
#include <optional>
#include <set>
#include <vector>

namespace comet {

class Document : public QObject {
  Q_OBJECT

 public:
  explicit Document(FileReaderPtr files, QObject* parent = nullptr);
  ~Document() override;

  const Scene& scene() const { return scene_; }
  // What reads the files of scenes.
  const FileReaderPtr& files() const { return files_; }

  // `what` names the step, as in "Undo change rate".
  void edit(const Scene& next, const QString& what, const QString& mergeKey = {});
  // The next edit starts a step of its own.
  void endMerge() { mergeKey_.clear(); }
  // Sets a parameter; on a keyed one, the key at the current frame.
  void setParam(ItemId item, const std::string& param, const ParamValue& value, const QString& mergeKey = {});
  // A new constant for the parameter, or a new key value at the current frame if it is keyed; that frame is
  // then held.
  void setBase(ItemId item, const std::string& param, const Value& value, const QString& mergeKey = {});
  // Constants of several parameters in one edit, so that undoing takes one step.
  void setBases(ItemId item, const std::vector<std::pair<const char*, Value>>& bases, const QString& what,
                const QString& mergeKey);

  // Reads the file behind the window and then sets it; one that cannot be read is set with the reason why.
  // With `joins` it becomes part of the last step of the history, unless there was another edit meanwhile.
  void setFile(ItemId item, const std::string& param, const QString& path, bool joins = false);
  // The file that is being read for a parameter; empty for none.
  QString fileBeingRead(ItemId item, const std::string& param) const;

  // Takes an item away, as an edit. What every scene has stays.
  void remove(ItemId item);

  void undo();
  void redo();
  bool canUndo() const { return !undo_.empty(); }
  bool canRedo() const { return !redo_.empty(); }
  QString undoText() const { return undo_.empty() ? QString() : undo_.back().what; }
  QString redoText() const { return redo_.empty() ? QString() : redo_.back().what; }

  // Starts afresh with another scene. `path` is empty for one that has no file yet.
  void replace(const Scene& scene, const QString& path);
  // Throw Error and change nothing if the file cannot be read or written.
  void open(const QString& path);
  void save(const QString& path);
  const QString& path() const { return path_; }
  // Where the scene's file is.
  std::string folder() const;
  QString displayName() const;
  void setDisplayName(const QString& name) { displayName_ = name; }
  bool hasUnsavedChanges() const { return scene_ != saved_; }
  // Whatever its file holds, this is not saved.
  void setUnsaved();
  // Whether the file is another one than was read or saved here last.
  bool isChangedOnDisk() const { return !path_.isEmpty() && stampOnDisk() != stamp_; }
  // When the scene's file was written and how long it is; empty if there is none.
  QString stampOnDisk() const { return stampOf(path_); }
  // Takes what its file holds now as an edit, after which nothing is unsaved.
  void takeReloaded(const Scene& scene);

  // The item of this id; null if there is none, or one of another family bears the id now, in another scene.
  Scene::ItemPtr item(ItemId id, ItemFamily family) const;
  Scene::ItemPtr emitter(ItemId id) const { return item(id, ItemFamily::Emitter); }

  // The item whose parameters are shown; always one of the scene's.
  ItemId selected() const { return selected_; }
  // The emitter that life chart and gizmo belong to; 0 if the scene has none.
  ItemId selectedEmitter() const { return selectedEmitter_; }
  void select(ItemId item);

  // Emitters and gases that alone are drawn, and influences that alone act; without any, all. A way of
  // looking, not part of the scene: bakes have all.
  enum class SoloOf { Drawn, Influences };
  bool isSolo(ItemId item) const { return solo_.count(item) > 0; }
  bool anySolo(SoloOf what) const;
  void setSolo(ItemId item, bool solo);
  // The scene with every influence off that does not act while others are solo, and gases at the resolution
  // of the preview.
  Scene simulatedScene() const { return simulated(scene_); }
  // The scene with all that is not to be drawn turned off.
  Scene drawnScene() const { return drawn(scene_); }
  // The same of another version of the scene.
  Scene simulated(const Scene& version) const;
  Scene drawn(const Scene& version) const;

  // Whether strokes of the selected item are drawn in the viewport. Ends when another item is selected.
  bool isDrawing() const { return isDrawing_; }
  void setDrawing(bool drawing);

  // How the user wants to see times; kept for all scenes.
  TimeDisplay timeDisplay() const { return timeDisplay_; }
  void setTimeDisplay(TimeDisplay display);

  int frame() const { return frame_; }
  void setFrame(int frame);
  // What plays is asked to stop, since an edit belongs to the frame that is shown now.
  void holdFrame() { Q_EMIT frameHeld(); }

 Q_SIGNALS:
  void sceneChanged();
  // Another scene takes the place of this one; comes before sceneChanged.
  void replaced();
  void selectionChanged();
  void frameChanged(int frame);
  void frameHeld();
  // A file is being read, or has been.
  void readingChanged();
  void soloChanged();
  void drawingChanged();
  void timeDisplayChanged();
  // File name, unsaved changes or history changed.
  void stateChanged();
  // Its file holds the scene now.
  void saved();

 private:
  struct Step {
    Scene scene;
    QString what;
  };

  // When a file was written and how long it is; empty if there is none.
  static QString stampOf(const QString& path);
  void takeFile(ItemId item, const std::string& param, const QString& path, const FileRef& file);
  void show(const Scene& scene);
  void keepSelectionValid();

  FileReaderPtr files_;
  Scene scene_;
  Scene saved_;
  std::vector<Step> undo_;
  std::vector<Step> redo_;
  QString mergeKey_;
  QString path_;
  QString displayName_;
  QString stamp_;
  ItemId selected_ = 0;
  ItemId selectedEmitter_ = 0;
  std::set<ItemId> solo_;
  TimeDisplay timeDisplay_ = TimeDisplay::AsKept;
  int frame_ = 1;
  bool isDrawing_ = false;
  struct Reading {
    QString path;
    std::optional<Scene> joins;  // the scene whose last step it becomes part of
  };
  std::map<std::pair<ItemId, std::string>, Reading> reading_;
  Progress leaving_;     // what is still being read is given up with the document
  QThreadPool readers_;  // last: it waits for what is still being read
};

}  // namespace comet
