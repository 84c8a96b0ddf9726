#include "app/document.h"
#include "core/edit/edits.h"
#include "core/edit/parts.h"
#include "core/model/check.h"
#include "core/model/tyres.h"

#include "app/words.h"
#include "core/job/fields.h"
#include "core/job/limits.h"
#include "core/say/bar_words.h"
#include "core/say/doubts.h"
#include "core/study/balance.h"
#include "core/sure/draws.h"
#include "core/sure/questions.h"

#include <QCoreApplication>
#include <QEvent>
#include <QTimer>
#include <QUndoCommand>

#include <algorithm>

namespace dervish::app {
namespace {
/// Whether results depend on the field: readings of tests and words for the book wait without making anything old.
bool bears_on_results(const std::string& path) { return !path.starts_with("tests/") && !path.starts_with("book/"); }

/// Tries the typed texts that wait, as long as one more can be used.
void take_up_drafts(job::Job& job) {
    for (bool progress = !job.drafts.empty(); progress;) {
        progress = false;
        job::Job next = job;
        std::map<std::string, job::FieldRef> known; // once: it walks the whole job
        for (const job::FieldRef& f : job::fields(next)) known.emplace(f.path, f);
        for (const auto& [path, draft] : std::map(job.drafts)) {
            if (!bears_on_results(path)) continue;
            const auto field = known.find(path);
            if (field == known.end()) {
                job.drafts.erase(path); // the part it belonged to is gone
                next.drafts.erase(path);
                continue;
            }
            const job::Measured before = *field->second.value;
            try {
                field->second.value->value = job::parse(draft.text, field->second.spec, draft.units, path);
                next.drafts.erase(path);
                model::check(next);
                job = next;
                progress = true;
            } catch (const BadInput&) {
                *field->second.value = before;
                next.drafts[path] = draft;
            }
        }
    }
}

/// Writes what was typed: what a tool reads was read by it; of anything else the source stands, with its usual spread;
/// several readings have their own.
void take(job::Measured& m, const job::Typed& typed, const job::FieldSpec& spec, bool measuring,
          const job::Measured* before) {
    const bool word = spec.word && typed.value == spec.word_value; // "unknown" was read by nothing
    const bool by_tool = measuring || typed.sigma || (spec.tool != job::Tool::Test && !word);
    if (before && before->value == typed.value && !measuring && !typed.sigma &&
        (!by_tool || before->source == job::Source::Measured)) {
        m = *before;
        return;
    }
    const double was = m.sigma;
    m.value = typed.value;
    if (by_tool) m.source = job::Source::Measured;
    m.sigma = typed.sigma ? *typed.sigma : units::as_filed(job::usual_sigma(spec, m.source, m.value), spec.quantity);
    if (m.value == 0 && m.sigma == 0 && !by_tool && !spec.word) m.sigma = was; // a share of nought says nothing
}

QString said(const BadInput& e) { return QString::fromStdString(e.problem() + "; " + e.accepted()); }
} // namespace

/// One step of the history: the whole job before and after, which are small values.
class JobCommand : public QUndoCommand {
public:
    JobCommand(Document& document, const QString& what, const QString& merge, std::shared_ptr<const job::Job> after)
        : QUndoCommand(what), document_(document), merge_(merge), before_(document.job_), after_(std::move(after)) {}
    void undo() override { document_.show_job(before_); }
    void redo() override { document_.show_job(after_); }
    const QString& merge() const { return merge_; }
    const job::Job& before() const { return *before_; }
    int id() const override { return merge_.isEmpty() ? -1 : 1; }
    bool mergeWith(const QUndoCommand* next) override {
        const auto* other = static_cast<const JobCommand*>(next);
        if (other->merge_ != merge_) return false;
        after_ = other->after_;
        setObsolete(*before_ == *after_);
        return true;
    }

private:
    Document& document_;
    QString merge_;
    std::shared_ptr<const job::Job> before_, after_;
};

namespace {
bool only_described(const job::Job& job) {
    const bool recorded = std::ranges::any_of(job.book, [](const job::Entry& e) {
        return e.kind == job::EntryKind::Fitted || e.kind == job::EntryKind::Found;
    });
    return !recorded && job::nothing_tried(job);
}
} // namespace

Document::Document(QObject* parent) : QObject(parent), bands_timer_(new QTimer(this)), pause_timer_(new QTimer(this)) {
    for (QTimer* timer : {bands_timer_, pause_timer_}) timer->setSingleShot(true);
    bands_timer_->setInterval(0);   // they move while one drags
    pause_timer_->setInterval(120); // what takes long waits for the hand to pause: it would slow the next key down
    connect(bands_timer_, &QTimer::timeout, this, &Document::start_bands);
    connect(pause_timer_, &QTimer::timeout, this, &Document::start_slow_bands);
    start_new();
}

Document::~Document() = default;

void Document::set_units(units::System system) {
    units_ = system;
    problems_.clear();
    emit changed();
}

bool Document::describes() const { return look_ == Look::Fitted && only_described(*job_); }

void Document::set_look(Look look) {
    if (look_ == look || now_) return;
    look_ = look;
    ask_for_bands(); // those that are there are the other setup's
    emit changed();
}

void Document::look_back(int entry) {
    const auto today = job_as_it_is();
    if (entry < 0 || entry >= static_cast<int>(today->book.size())) return;
    const auto& car = today->book[static_cast<std::size_t>(entry)].car;
    if (!car) return;
    auto then = std::make_shared<job::Job>(*today);
    then->vehicle = car->vehicle;
    then->fitted = then->trial = car->setup;
    then->drafts.clear();
    if (!now_) look_before_ = look_;
    now_ = today;
    back_at_ = entry;
    look_ = Look::Fitted;
    show(std::move(then));
}

void Document::come_back() {
    if (!now_) return;
    look_ = look_before_;
    show(std::exchange(now_, nullptr));
}

void Document::edit(const QString& what, const QString& merge, const std::function<void(job::Job&)>& change) {
    if (now_) {
        emit refused();
        return;
    }
    auto next = std::make_shared<job::Job>(*job_);
    change(*next);
    if (describes() && next->fitted == job_->fitted && !(next->trial == job_->trial)) { // the change was of Fitted
        const std::string name = next->fitted.name;
        next->fitted = next->trial;
        next->fitted.name = name;
    }
    edit::hold_pickups(*job_, *next);
    edit::keep_parts(*job_, *next);
    take_up_drafts(*next);
    edit::keep_parts(*job_, *next);
    if (*next == *job_) return;
    job::check_limits(*next, job_.get());
    undo_.push(new JobCommand(*this, what, merge, std::move(next)));
}

void Document::type(const QString& path, const QString& text) {
    const std::string at = path.toStdString();
    const QString merge = "type " + path;
    edit(tr("change of %1").arg(path.section('/', -1).replace('_', ' ')), merge, [&](job::Job& job) {
        job::Job next = job;
        const auto field = job::field(next, at);
        if (!field) return;
        // The value from before this typing: what was typed on the way here ("95" of "950") is not what stands.
        std::optional<job::Measured> before;
        if (const job::Job* first = before_merging(merge)) {
            if (const auto old = job::field(*first, at)) before = *old->value;
        }
        try {
            const job::Typed typed = job::parse_entry(text.toStdString(), field->spec, units_, at);
            const bool as_shown = job::show(field->value->value, field->spec, units_) == text.toStdString();
            if (!as_shown || measuring_ || field->spec.tool != job::Tool::Test)
                take(*field->value, as_shown ? job::Typed{field->value->value, {}} : typed, field->spec, measuring_,
                     before ? &*before : &std::as_const(*field->value));
            next.drafts.erase(at);
            // One part whose number was set aside as it was opened waits on Fitted too: it is mended once.
            const std::string on_fitted = at.starts_with("trial/") ? "fitted" + at.substr(5) : std::string();
            if (next.drafts.erase(on_fitted) > 0)
                if (const auto twin = job::field(next, on_fitted)) *twin->value = *field->value;
            job::check_sigma(field->value->sigma, field->spec, at); // the value is within its range as it was read
            model::check_cars(next, &job);
            job = next;
        } catch (const BadInput&) {
            if (before) *job::field(job, at)->value = *before;
            job.drafts[at] = {text.toStdString(), units_};
        }
    });
}

const job::Job* Document::before_merging(const QString& merge) const {
    if (undo_.index() == 0 || undo_.index() != undo_.count()) return nullptr;
    const auto* last = static_cast<const JobCommand*>(undo_.command(undo_.index() - 1));
    return last->merge() == merge ? &last->before() : nullptr;
}

QString Document::shown(const QString& path) const {
    const auto field = job::field(*job_, path.toStdString());
    if (!field) return {};
    return draft(field->path, field->spec.quantity)
        .value_or(QString::fromStdString(job::show(field->value->value, field->spec, units_)));
}

std::optional<QString> Document::draft(const std::string& key, units::Quantity quantity) const {
    const auto found = job_->drafts.find(key);
    if (found == job_->drafts.end()) return {};
    return QString::fromStdString(job::draft_text(found->second, quantity, units_));
}

void Document::set_measuring(bool on) {
    measuring_ = on;
    emit changed();
}

QString Document::problem(const QString& path) const {
    const auto draft = job_->drafts.find(path.toStdString());
    if (draft == job_->drafts.end()) return {};
    const auto known = problems_.find(draft->first);
    if (known != problems_.end()) return known->second;
    return problems_[draft->first] = find_problem(draft->first, draft->second);
}

QString Document::doubt(const QString& path) const {
    if (!doubts_) {
        doubts_.emplace();
        for (const say::Doubt& d : say::doubts(*job_)) doubts_->emplace(d.path, QString::fromStdString(d.words));
    }
    const auto found = doubts_->find(path.toStdString());
    return found == doubts_->end() ? QString() : found->second;
}

QString Document::find_problem(const std::string& path, const job::Draft& draft) const {
    job::Job copy = *job_;
    const auto field = job::field(copy, path);
    if (!field) return {};
    try {
        field->value->value = job::parse(draft.text, field->spec, draft.units, path);
        copy.drafts.clear();
        model::check(copy);
    } catch (const BadInput& e) {
        return said(e);
    }
    return {};
}

QString Document::waiting_path() const {
    for (const auto& [path, text] : job_->drafts)
        if (bears_on_results(path)) return QString::fromStdString(path);
    return {};
}

QString Document::waiting() const { return waiting_path().isEmpty() ? stale_ : problem(waiting_path()); }

void Document::set_source(const QString& path, job::Source source) {
    edit(tr("source of %1").arg(path.section('/', -1).replace('_', ' ')), {}, [&](job::Job& job) {
        if (const auto field = job::field(job, path.toStdString())) {
            field->value->source = source;
            field->value->sigma =
                units::as_filed(job::usual_sigma(field->spec, source, field->value->value), field->spec.quantity);
        }
    });
}

void Document::set_sigma(const QString& path, double si) {
    edit(tr("spread of %1").arg(path.section('/', -1).replace('_', ' ')), {}, [&](job::Job& job) {
        if (const auto field = job::field(job, path.toStdString()))
            field->value->sigma =
                units::as_filed(std::clamp(si, 0.0, job::sigma_spec(field->spec).highest), field->spec.quantity);
    });
}

void Document::show_job(std::shared_ptr<const job::Job> job) {
    if (std::exchange(now_, nullptr)) look_ = look_before_;
    show(std::move(job));
}

void Document::show(std::shared_ptr<const job::Job> job) {
    job_ = std::move(job);
    problems_.clear();
    doubts_.reset();
    compute();
    emit changed();
}

void Document::compute() {
    stale_.clear();
    bool news = false;
    const auto assess = [&](Result& result) {
        Result now{result.look, job_, {}, {}, result.gave, 0};
        try {
            now.figures = std::make_shared<study::Assessment>(
                result.figures
                    ? study::assess(now.vehicle(), now.setup(), {result.vehicle(), result.setup(), *result.figures})
                    : study::assess(now.vehicle(), now.setup()));
            const balance::Model model = model::to_model(now.vehicle(), now.setup(), now.figures->car);
            now.heads = study::ride_in_use(now.vehicle(), model).head;
            now.limit = std::make_shared<balance::Limit>(balance::outright_limit(model, now.gave.get()));
            if (now.limit->first == balance::Gives::Front || now.limit->first == balance::Gives::Rear)
                now.gave = now.limit; // half a number typed may leave a car that tips over
            result = std::move(now);
            news = true;
        } catch (const BadInput& e) {
            stale_ += said(e);
        } catch (const std::exception& e) { // a fault of ours: the last good results stand, and the window says so
            stale_ += tr("this could not be computed (%1); undo the last change").arg(e.what());
        }
    };
    const auto current = [&](Result& r) {
        const bool same =
            r.of && r.vehicle() == job_->vehicle && r.setup() == (r.look == Look::Trial ? job_->trial : job_->fitted);
        if (same) r.of = job_; // they are of this job too, whose shelf may be another
        return same;
    };
    std::vector<Result*> outdated;
    for (Result* result : {&trial_, &fitted_})
        if (!current(*result)) outdated.push_back(result);
    if (!outdated.empty()) stop_bands(); // first, since they hold the processors
    // One after the other: waking another processor takes as long as the sum, and at times far longer.
    for (Result* result : outdated) assess(*result);
    if (!standard_of_ || !(standard_of_->standard == job_->standard) || !(standard_of_->vehicle == job_->vehicle)) {
        for (const End end : both_ends) {
            const job::AxleSetup& standard = job_->standard[end];
            if (fitted_.of == job_ && fitted_.setup()[end] == standard) { // as it mostly is
                standard_[end] = (*fitted_.figures)[end];
                continue;
            }
            try {
                standard_[end] = study::bar_figures(standard, job_->vehicle[end]);
            } catch (const BadInput&) { // it was sound when it was called the standard, on another car
                standard_[end].reset();
            }
        }
        standard_of_ = job_;
    }
    // Spreads and sources change the bands too, and they are part of the vehicle and the setups.
    if (news) ask_for_bands();
}

void Document::stop_bands() {
    bands_timer_->stop();
    bands_worker_.stop();
    pause_timer_->stop();
    slow_bands_worker_.stop();
    draws_.stop();
}

void Document::ask_for_bands() {
    stop_bands();
    for (Bands* bands : {&bands_, &limit_bands_, &heads_bands_})
        if (*bands) gone_.push_back(std::exchange(*bands, nullptr));
    changes_.reset();
    bands_timer_->start();
}

bool Document::settled() const { return !bands_timer_->isActive() && !pause_timer_->isActive() && under_way() == 0; }

void Document::work_up_to(Depth depth) {
    depth_ = depth;
    ask_for_bands();
    emit bands_changed();
}

void Document::start_bands() {
    bands_timer_->stop();
    if (depth_ == Depth::Nothing) return;
    const auto gone = std::make_shared<std::vector<Bands>>(std::move(gone_));
    gone_.clear();
    bands_worker_.start([this, job = job_, look = look_, gone](const auto& cancelled, const auto& post) {
        gone->clear();
        const job::Setup& setup = look == Look::Trial ? job->trial : job->fitted;
        const auto tell = [&](Bands Document::*place, sure::Bands&& result) {
            post([this, made = std::make_shared<const sure::Bands>(std::move(result)), place] {
                this->*place = made;
                emit bands_changed();
            });
        };
        tell(&Document::bands_, sure::bands(job->vehicle, setup, cancelled));
        tell(&Document::limit_bands_, sure::limit_bands(job->vehicle, setup, Ground::Dry, cancelled));
        post([this] { pause_timer_->start(); });
    });
}

void Document::start_slow_bands() {
    pause_timer_->stop();
    if (!bands_ || !limit_bands_) return; // of a car that cannot be
    slow_bands_worker_.start([this, job = job_, look = look_, known = fitted_figures_, tally = bands_,
                              limit = limit_bands_](const auto& cancelled, const auto& post) {
        const job::Setup& setup = look == Look::Trial ? job->trial : job->fitted;
        const auto heads =
            std::make_shared<const sure::Bands>(sure::propagate(job->vehicle, setup, sure::heads(), cancelled));
        post([this, heads] {
            heads_bands_ = heads;
            emit bands_changed();
        });
        if (look == Look::Trial && !cancelled()) {
            auto fitted = known;
            if (!fitted || !(fitted->of->fitted == job->fitted) || !(fitted->of->vehicle == job->vehicle))
                fitted = std::make_shared<FittedFigures>(
                    FittedFigures{job, sure::figures_of(job->vehicle, job->fitted, cancelled)});
            const auto changes = std::make_shared<const std::vector<sure::Change>>(
                sure::changes(job->fitted, fitted->figures, setup, sure::together(*tally, *limit, *heads)));
            if (cancelled()) return;
            post([this, fitted, changes] {
                fitted_figures_ = fitted;
                changes_ = changes;
                emit bands_changed();
            });
        }
        post([this] { start_draws(); });
    });
}

/// Where straight lines fail, drawn cars give the bands' sides.
void Document::start_draws() {
    if (!bands_ || !limit_bands_ || !heads_bands_ || depth_ != Depth::Whole) return;
    draws_.start([this, job = job_, look = look_, changes = changes_, bands = bands_, limit_bands = limit_bands_,
                  heads_bands = heads_bands_](const auto& cancelled, const auto& post) {
        const auto go_on = [&](int) { return !cancelled(); };
        auto changed = changes ? *changes : std::vector<sure::Change>();
        const auto drawn = [&](const Bands& of, const sure::Question& question, std::ptrdiff_t first,
                               std::ptrdiff_t count, int cars = sure::draws_for_sides) {
            const job::Vehicle& car = job->vehicle;
            if (look == Look::Fitted)
                return std::make_shared<const sure::Bands>(
                    sure::with_draws(*of, sure::draw(car, job->fitted, question, cars, sure::draws_seed, go_on)));
            const sure::ChangeDraws both =
                sure::draw_change({car, job->fitted}, {car, job->trial}, question, cars, sure::draws_seed, go_on);
            if (!changed.empty()) {
                const auto from = changed.begin() + first;
                std::ranges::copy(sure::with_draws({from, from + count}, both.change), from);
            }
            return std::make_shared<const sure::Bands>(sure::with_draws(*of, both.after));
        };
        const Bands figures = drawn(bands, sure::tally(), 0, study::outcome_count),
                    limits = drawn(limit_bands, sure::limit(Ground::Dry), sure::ComparedLimit, 1),
                    heads = drawn(heads_bands, sure::heads(), sure::ComparedHeads, 1, sure::draws_for_many);
        post([this, figures, limits, heads, changed = std::make_shared<const std::vector<sure::Change>>(changed)] {
            bands_ = figures;
            limit_bands_ = limits;
            heads_bands_ = heads;
            if (changes_) changes_ = changed;
            emit bands_changed();
        });
    });
}

double Document::relative_band(study::Outcome of_front, End end) const {
    const study::Outcome o = study::at(of_front, end);
    const double value = looked().outcomes[o];
    if (!bands_ || !(value > 0)) return 0;
    const sure::Sides sides = bands_->sides(o);
    return (sides.below + sides.above) / 2 / value;
}

QString Document::band_text(study::Outcome of_front, End end, double factor, int decimals) const {
    if (!bands_) return {};
    const study::Outcome o = study::at(of_front, end);
    const sure::Sides sides = bands_->sides(o);
    return " " +
           qs(say::band_text(looked().outcomes[o] / factor, {sides.below / factor, sides.above / factor}, decimals));
}

void Document::finish_bands() {
    if (heads_bands_ && (changes_ || look_ == Look::Fitted)) return;
    start_bands();
    bands_worker_.finish();
    start_slow_bands();
    slow_bands_worker_.finish();
}

void Document::finish_draws() {
    finish_bands();
    if (!draws_.started()) start_draws();
    draws_.finish();
}

void Document::replace(store::JobFile file, const std::filesystem::path& path) {
    job::Job sound = file.job;
    model::check(sound); // a job that cannot be computed at all leaves the open one in place
    undo_.clear();
    // Each step holds the job before and after it: bounded by memory, not by number.
    constexpr std::size_t most_memory = 256u << 20;
    job::Job own = file.job; // without what steps share
    own.tests.clear();
    own.book.clear();
    const std::size_t size = store::job_bytes({std::move(own), {}}, true).size();
    undo_.setUndoLimit(static_cast<int>(std::clamp<std::size_t>(most_memory / size, 20, 2000)));
    undo_.setClean();
    recovered_ = measuring_ = false;
    attachments_ = std::make_shared<const store::Members>(std::move(file.attachments));
    path_ = path;
    stamp_ = path.empty() ? store::Stamp{} : store::stamp_of(path);
    now_.reset();
    look_ = only_described(file.job) ? Look::Fitted : Look::Trial;
    show_job(std::make_shared<const job::Job>(std::move(file.job)));
}

void Document::start_new(job::Job job) { replace({std::move(job), {}}, {}); }

void Document::open(const std::filesystem::path& path) { replace(store::load(path), std::filesystem::absolute(path)); }

void Document::save(const std::filesystem::path& named) {
    const std::filesystem::path path = std::filesystem::absolute(named);
    attachments_ = std::make_shared<const store::Members>(store::save({*job_as_it_is(), *attachments_}, path));
    path_ = path;
    stamp_ = store::stamp_of(path);
    recovered_ = false;
    undo_.setClean();
    emit changed();
}

std::string Document::attach(const std::filesystem::path& file) {
    store::Member member;
    std::size_t held = 0;
    for (const auto& [name, one] : *attachments_) held += one.content.size();
    member.content = store::read_file(file, store::largest_member);
    if (held + member.content.size() > store::most_attached)
        throw BadInput(file.filename().string(), "too much for one job with what it holds already",
                       "up to " + std::to_string(store::most_attached >> 20) +
                           " MB of photographs and files in all; a smaller picture does");
    // No name within a job holds what would lead elsewhere.
    std::string stem = file.stem().string();
    std::string ending = file.extension().string();
    for (std::string* part : {&stem, &ending}) std::ranges::replace(*part, '\\', '_');
    std::string name = stem + ending;
    for (int n = 2; name == "job.json" || attachments_->contains(name); ++n) {
        const auto there = attachments_->find(name);
        if (there != attachments_->end() && there->second.content == member.content) return name;
        name = stem + "-" + std::to_string(n) + ending;
    }
    auto more = std::make_shared<store::Members>(*attachments_);
    more->emplace(name, std::move(member));
    attachments_ = std::move(more);
    return name;
}

void Document::write_made(const QString& file, const std::string& bytes, bool replace) const {
    std::vector<std::filesystem::path> own;
    if (!path_.empty()) own.push_back(path_);
    store::write_made(file.toStdString(), bytes, own, replace);
}

void Document::recover(store::JobFile file, const std::filesystem::path& path, const store::Stamp& stamp) {
    replace(std::move(file), path);
    stamp_ = stamp;
    recovered_ = true;
    emit changed();
}

} // namespace dervish::app
