// The photo's way: a scan of the hooping, what was found in it, and what to point at by hand.
#pragma once

#include <QFileSystemWatcher>
#include <QHash>
#include <QProgressBar>
#include <QSlider>

#include "align_hand.h"
#include "station.h"

namespace rt {

class ScanTool : public QWidget {
  Q_OBJECT
 public:
  ScanTool(Desk& desk, FileAsker& asker, AlignHand& hand);
  void refresh();
  void openPhoto();
  /// Takes a photo from a file; says why where it is none.
  void takeFile(const QString& path);
  void paste();
  /// The scan that ships with a demo job's hooping; false: there is none.
  bool openDemoScan();
  /// Photos that come into a folder, a phone's for one, are taken as they come.
  void watch(const QString& folder);

 private:
  void nameParts();
  void layOut();
  void connectAll();
  void showScans();
  void showMarks();
  void showSeams();
  void lookIntoFolder();
  QString stampOf(const ScanTaken& scan) const;
  Desk& desk_;
  FileAsker& asker_;
  AlignHand& hand_;
  QPushButton *shoot_, *open_, *watch_, *guides_, *check_, *lens_, *demo_;
  QFileSystemWatcher watcher_;
  QHash<QString, qint64> seen_;  ///< Photos of the watched folder, with the size they had.
  QHBoxLayout* scans_;
  QVBoxLayout* marks_;
  QLabel *stamp_, *plane_, *seams_;
  QProgressBar* progress_;
  QSlider* strength_;
};

}  // namespace rt
