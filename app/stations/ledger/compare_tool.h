// Two runs side by side: what went otherwise.
#pragma once

#include <QGridLayout>

#include "run_story.h"
#include "station.h"

namespace rt {

class CompareTool : public QWidget {
  Q_OBJECT
 public:
  explicit CompareTool(Desk& desk);
  /// The runs to choose from, oldest first.
  void show(std::vector<RunStory> stories);

 private:
  void fill(QComboBox& box, size_t otherwise);
  void compare();
  Desk& desk_;
  std::vector<RunStory> stories_;
  QComboBox *left_, *right_;
  QGridLayout* table_;
  QLabel* words_;
};

}  // namespace rt
