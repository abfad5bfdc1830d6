#include "studies.h"

namespace rt {
namespace {

Job jobOf(const SequenceInput& input) {
  Job job;
  job.pieces = input.pieces;
  job.sequence = input.settings;
  return job;
}

/// Longer than a frame to work out.
bool takesLong(const SequenceSettings& s) {
  return s.hidden_margin_mm > 0 || s.shortest_travel || s.thin_under_letters > 0 || s.cloth;
}

}  // namespace

SequenceInput sequenceOf(const Job& job) {
  return {job.pieces, job.sequence};
}

Studies::Studies(const Bench& bench, QObject* parent)
    : QObject(parent),
      bench_(bench),
      sequence_([](const SequenceInput& in, const Watch& watch) {
        watched(watch, 0, "laying out");
        return sewnLayout(jobOf(in));
      }),
      weigh_([](const WeighInput& in, const Watch& watch) {
        watched(watch, 0, "weighing");
        return rt::weigh(*in.layout, in.fabric, in.zones);
      }),
      cure_([](const CureInput& in, const Watch& watch) {
        return curesFor(in.job, in.finding, *in.bench, watch);
      }),
      plan_([](const PlanInput& in, const Watch& watch) {
        if (in.sewn) return nextPlan(*in.sewn, *in.layout, in.options, watch);
        NextPlan out;
        out.plan = planHoopings(*in.layout, in.options, watch);
        return out;
      }),
      advice_([](const AdviceInput& in, const Watch& watch) {
        return planAdvice(in.job, *in.made, *in.bench, watch);
      }),
      figures_([](const FiguresInput& in, const Watch& watch) {
        return sequenceFigures(jobOf(in.sequence), in.time, watch);
      }),
      compare_([](const CompareInput& in, const Watch& watch) {
        watched(watch, 0, "weighing");
        return rt::weigh(sewnLayout(in.job), in.fabric, in.job.zones);
      }),
      movement_([](const MovementInput& in, const Watch& watch) {
        return clothMovement(jobOf(in.sequence), in.cloth, watch);
      }),
      clothLesson_([](const ClothLessonInput& in, const Watch& watch) {
        ClothPhotos photos{{}, in.files, in.setup};
        for (const std::string& file : in.files) photos.photos.push_back(Photo::read(file));
        return learnedFromPhotos(in.before, *in.sewn, photos, {}, watch);
      }) {
  connect(&sequence_, &StudyBase::changed, this, [this] {
    if (!sequence_.last() || !laid_ || !sequence_.resultFor(*laid_)) return;
    if (!sequencing_) return;
    sequencing_ = false;
    takeLayout({sequence_.resultFor(*laid_)});
    weigh();
    emit layoutChanged();
  });
  connect(&weigh_, &StudyBase::changed, this, [this] {
    if (!weigh_.running()) emit weighed();
  });
  connect(&cure_, &StudyBase::changed, this, &Studies::cured);
  connect(&plan_, &StudyBase::changed, this, &Studies::planned);
  connect(&advice_, &StudyBase::changed, this, &Studies::advised);
  connect(&figures_, &StudyBase::changed, this, [this] {
    if (!figures_.running()) emit figured();
  });
  connect(&compare_, &StudyBase::changed, this, [this] {
    if (compare_.state() == StudyState::Ready) emit comparedTo();
  });
}

void Studies::reset() {
  for (StudyBase* s : {static_cast<StudyBase*>(&sequence_), static_cast<StudyBase*>(&weigh_),
                       static_cast<StudyBase*>(&cure_), static_cast<StudyBase*>(&plan_),
                       static_cast<StudyBase*>(&advice_), static_cast<StudyBase*>(&figures_),
                       static_cast<StudyBase*>(&compare_), static_cast<StudyBase*>(&movement_),
                       static_cast<StudyBase*>(&clothLesson_)})
    s->blockSignals(true);
  sequence_.reset();
  weigh_.reset();
  cure_.reset();
  plan_.reset();
  advice_.reset();
  figures_.reset();
  compare_.reset();
  movement_.reset();
  clothLesson_.reset();
  for (StudyBase* s : {static_cast<StudyBase*>(&sequence_), static_cast<StudyBase*>(&weigh_),
                       static_cast<StudyBase*>(&cure_), static_cast<StudyBase*>(&plan_),
                       static_cast<StudyBase*>(&advice_), static_cast<StudyBase*>(&figures_),
                       static_cast<StudyBase*>(&compare_), static_cast<StudyBase*>(&movement_),
                       static_cast<StudyBase*>(&clothLesson_)})
    s->blockSignals(false);
  laid_.reset();
  sequencing_ = false;
  cureFinding_ = -1;
}

void Studies::takeLayout(SharedPattern layout) {
  layout_ = std::move(layout);
  print_ = printOf(*layout_);
  statistics_ = statisticsOf(*layout_, time_);
}

void Studies::refresh(const Job& job, const Fabric& fabric, const TimeModel& time) {
  const SequenceInput now = sequenceOf(job);
  const bool sameTime = time == time_;
  job_ = job;
  fabric_ = fabric;
  time_ = time;
  if (!laid_ || *laid_ != now) {
    laid_ = now;
    sequencing_ = false;
    if (!takesLong(now.settings)) {
      takeLayout({std::make_shared<const Pattern>(sewnLayout(job))});
    } else if (const auto known = sequence_.resultFor(now)) {
      takeLayout({known});
    } else {  // meanwhile the layout keeps what is hidden and is sewn as drawn
      SequenceInput plain = now;
      plain.settings.hidden_margin_mm = 0;
      plain.settings.shortest_travel = false;
      plain.settings.thin_under_letters = 0;
      plain.settings.cloth.reset();
      takeLayout({std::make_shared<const Pattern>(sewnLayout(jobOf(plain)))});
      sequencing_ = true;
      sequence_.ask(now);
    }
  } else if (!sameTime) {
    statistics_ = statisticsOf(*layout_, time_);
  }
  if (!weighingCurrent()) {
    cure_.reset();
    cureFinding_ = -1;
  }
  weigh();  // back at what was weighed last it stops the weighing of what is gone
}

void Studies::weigh() {
  if (!sequencing_) weigh_.ask({layout_, fabric_, job_.zones});
}

bool Studies::weighingCurrent() const {
  return !sequencing_ && weigh_.lastInput() &&
         *weigh_.lastInput() == WeighInput{layout_, fabric_, job_.zones};
}

void Studies::seekCures(const Job& job, int finding) {
  const auto w = weighing();
  if (!w || !weighingCurrent() || finding < 0 ||
      finding >= static_cast<int>(w->report.findings.size()))
    return;
  cureFinding_ = finding;
  cure_.ask({job, w->report.findings[static_cast<size_t>(finding)], fabric_,
             std::make_shared<const Bench>(bench_)});
}

const std::vector<Cure>& Studies::cures() const {
  static const std::vector<Cure> none;
  return cure_.state() == StudyState::Ready && cure_.last() ? *cure_.last() : none;
}

void Studies::askFigures(const Job& job, const TimeModel& time) {
  figures_.ask({sequenceOf(job), time});
}

void Studies::compare(Job other, const Fabric& fabric) {
  compare_.ask({std::move(other), fabric});
}

void Studies::endComparison() {
  compare_.reset();
}

std::shared_ptr<const Weighing> Studies::compared() const {
  return compare_.state() == StudyState::Ready ? compare_.last() : nullptr;
}

bool Studies::busy() const {
  return sequencing_ || sequence_.running() || weigh_.running() || cure_.running() ||
         plan_.running() || advice_.running() || figures_.running() || compare_.running() ||
         movement_.running() || clothLesson_.running();
}

}  // namespace rt
