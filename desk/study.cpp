#include "study.h"

#include <QCoreApplication>
#include <QTimer>

namespace rt {

StudyBase::StudyBase(QObject* parent) : QObject(parent) {
  pool_.setMaxThreadCount(1);
}

StudyBase::~StudyBase() {
  stop();
  waitForWorker();
}

void StudyBase::waitForWorker() {
  pool_.waitForDone();
}

void StudyBase::stop() {
  if (!ticket_) return;
  ticket_->go = Go::Stop;
  ticket_.reset();
  if (state_ == StudyState::Running) setState(StudyState::Empty);
}

void StudyBase::enough() {
  if (ticket_) ticket_->go = Go::Enough;
}

void StudyBase::setState(StudyState state) {
  state_ = state;
  if (state != StudyState::Failed) error_.reset();
  if (state != StudyState::Running) progress_ = {};
  emit changed();
}

void StudyBase::run(std::function<void(const Watch&)> work, std::function<void()> done) {
  if (ticket_) ticket_->go = Go::Stop;  // it ends soon; the pool begins this one then
  const auto ticket = std::make_shared<Ticket>();
  ticket_ = ticket;
  setState(StudyState::Running);
  // the object outlives its worker: the destructor waits for it
  pool_.start([this, ticket, work = std::move(work), done = std::move(done)] {
    std::optional<Error> problem;
    try {
      work([this, ticket](const WorkProgress& p) {
        if (ticket->go == Go::Stop) return Go::Stop;
        QMetaObject::invokeMethod(
            this,
            [this, ticket, p] {
              if (ticket != ticket_) return;
              progress_ = p;
              emit progressed();
            },
            Qt::QueuedConnection);
        return ticket->go.load();
      });
    } catch (const Stopped&) {
      if (ticket->go != Go::Stop)
        problem = Error("the work stopped", "background work", "try again");
    } catch (const Error& e) {
      problem = e;
    } catch (const std::bad_alloc&) {
      problem = Error("the memory does not suffice", "background work", "make the layout smaller");
    } catch (const std::exception& e) {
      problem = Error(std::string("unexpected: ") + e.what(), "background work",
                      "undo the last change and report this");
    }
    QMetaObject::invokeMethod(
        this, [this, ticket, done, problem] { finish(ticket, done, problem); },
        Qt::QueuedConnection);
  });
}

void StudyBase::finish(const std::shared_ptr<Ticket>& ticket, const std::function<void()>& done,
                       const std::optional<Error>& problem) {
  if (ticket != ticket_) return;  // too late: another question came
  ticket_.reset();
  if (!problem) {
    done();
    return setState(StudyState::Ready);
  }
  error_ = problem;
  setState(StudyState::Failed);
}

void waitForEvents() {
  constexpr int kMoment_ms = 20;
  QTimer wake;
  wake.start(kMoment_ms);
  QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents | QEventLoop::AllEvents);
}

}  // namespace rt
