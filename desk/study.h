// Work in the background with one answer for one question: every figure that takes longer than a
// frame is a study.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <atomic>
#include <memory>
#include <optional>

#include "error.h"
#include "watch.h"

namespace rt {

/// Empty: nothing was asked. Running: the question in hand has no answer yet. Ready: `result` is
/// its answer. Failed: `error` says why it has none.
enum class StudyState { Empty, Running, Ready, Failed };

/// What all studies share; not copyable, for the thread that made it. Results arrive through its
/// event loop.
class StudyBase : public QObject {
  Q_OBJECT
 public:
  ~StudyBase() override;

  StudyState state() const { return state_; }
  bool running() const { return state_ == StudyState::Running; }
  /// Of the work that is running.
  WorkProgress progress() const { return progress_; }
  /// Why there is no answer; unset unless failed.
  const std::optional<Error>& error() const { return error_; }
  /// Gives the question up: running work is told to stop and its answer dropped.
  void stop();
  /// Running work that can shall give the best it has so far.
  void enough();

 signals:
  /// The state changed, or the last answer did.
  void changed();
  void progressed();

 protected:
  explicit StudyBase(QObject* parent);
  /// Runs `work` in the study's own thread; `done` then runs in this one, unless another question
  /// came or the study was stopped meanwhile. `work` may throw.
  void run(std::function<void(const Watch&)> work, std::function<void()> done);
  void setState(StudyState state);
  void waitForWorker();

 private:
  struct Ticket {
    std::atomic<Go> go{Go::On};
  };
  void finish(const std::shared_ptr<Ticket>& ticket, const std::function<void()>& done,
              const std::optional<Error>& problem);
  QThreadPool pool_;
  std::shared_ptr<Ticket> ticket_;
  StudyState state_ = StudyState::Empty;
  WorkProgress progress_;
  std::optional<Error> error_;
};

/// A study of `Input`, a copyable value compared by ==. The same question asked twice is answered
/// once; a new one stops and replaces the one under way. The last answer stays until the next one
/// comes, with the question that it is for.
template <class Input, class Output>
class Study : public StudyBase {
 public:
  using Work = std::function<Output(const Input&, const Watch&)>;
  explicit Study(Work work, QObject* parent = nullptr)
      : StudyBase(parent), work_(std::move(work)) {}
  ~Study() override {
    stop();
    waitForWorker();  // it writes into this object's answer
  }

  void ask(Input input) {
    if (asked_ && *asked_ == input && (running() || state() == StudyState::Ready)) return;
    if (answered_ && *answered_ == input && answer_) {  // asked before the one under way
      stop();
      asked_ = std::move(input);
      return setState(StudyState::Ready);
    }
    asked_ = input;
    auto answer = std::make_shared<std::shared_ptr<const Output>>();
    run([work = work_, input, answer](
            const Watch& watch) { *answer = std::make_shared<const Output>(work(input, watch)); },
        [this, input, answer] {
          answer_ = *answer;
          answered_ = input;
        });
  }
  /// Forgets question and answer.
  void reset() {
    stop();
    asked_.reset();
    answered_.reset();
    answer_.reset();
    setState(StudyState::Empty);
  }
  /// The last answer, for whatever question; null before the first.
  std::shared_ptr<const Output> last() const { return answer_; }
  const std::optional<Input>& lastInput() const { return answered_; }
  /// The answer to this question; null until it is there.
  std::shared_ptr<const Output> resultFor(const Input& input) const {
    return answered_ && *answered_ == input ? answer_ : nullptr;
  }
  const std::optional<Input>& asked() const { return asked_; }

 private:
  Work work_;
  std::optional<Input> asked_, answered_;
  std::shared_ptr<const Output> answer_;
};

/// Sleeps until something happens on this thread, or for a moment, and lets it happen. (To process
/// events for a time given would spin: with a time Qt does not wait.)
void waitForEvents();

}  // namespace rt
