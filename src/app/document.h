#pragma once
#ifndef Q_MOC_RUN // Qt's own compiler reads a header for its signals alone, and this one before most
#include "app/worker.h"
#include "core/book/minutes.h"
#include "core/job/fields.h"
#include "core/say/doubts.h"
#include "core/study/assess.h"
#include "core/sure/compare.h"
#include "core/sure/draws.h"
#include "core/sure/questions.h"
#include "store/job_file.h"
#endif

#include <QObject>
#include <QUndoStack>

#include <functional>
#include <map>
#include <memory>

class QTimer;

namespace dervish::balance {
struct Limit;
}

namespace dervish::app {

/// Which of the two setups on the bench is looked at.
enum class Look { Trial, Fitted };

/// A setup's figures, its outright limit, dry, and its harshness, with the job they were computed from.
struct Result {
    Look look;
    std::shared_ptr<const job::Job> of;
    std::shared_ptr<const study::Assessment> figures;
    std::shared_ptr<const balance::Limit> limit;
    std::shared_ptr<const balance::Limit> gave; ///< the last one at which an axle gave up, and where the next is sought
    double heads = 0;                           ///< tossed on the ground of the car's use, m/s²

    const job::Vehicle& vehicle() const { return of->vehicle; }
    const job::Setup& setup() const { return look == Look::Trial ? of->trial : of->fitted; }
};

/// The open job with its undo history and its computed results. Every change goes through edit() or type(); every
/// change is undone by the stack. Results follow at once; bands follow from a worker.
class Document : public QObject {
    Q_OBJECT

public:
    explicit Document(QObject* parent = nullptr);
    ~Document() override;

    const job::Job& job() const { return *job_; }
    QUndoStack& undo() { return undo_; }
    units::System units() const { return units_; }
    void set_units(units::System system);
    Look look() const { return look_; }
    void set_look(Look look);
    /// Nothing was fitted or tried yet: Fitted is looked at to be filled in, and Trial follows it.
    bool describes() const;
    /// Whether what is looked at may be changed where it stands: a Fitted that is a record may not.
    bool may_change() const { return !now_ && (look_ == Look::Trial || describes()); }

    /// Shows the car as it stood by an entry of the book in place of Fitted and Trial, in every station, until told to
    /// come back. Nothing can be changed meanwhile: edit() tells refused(). Nothing happens where the entry has no car.
    void look_back(int entry);
    void come_back();
    std::optional<int> looking_back() const { return now_ ? std::optional(back_at_) : std::nullopt; } ///< the entry

    /// Changes the job as one undoable step. Throws BadInput, the job unchanged, for what could not be saved
    /// (job::check_limits); whoever typed it keeps it. Steps with the same non-empty `merge` that follow each other are
    /// one.
    void edit(const QString& what, const QString& merge, const std::function<void(job::Job&)>& change);

    /// What a person typed into the field at `path`. What cannot be used becomes the field's draft and leaves the value
    /// as it was; drafts that fit again after a change are taken up.
    void type(const QString& path, const QString& text);

    /// The text the field shows: its draft, or its value.
    QString shown(const QString& path) const;
    /// Why the field's draft cannot be used; empty when there is none.
    QString problem(const QString& path) const;
    /// What looks like one of the usual mistakes about the field's value (say::doubts); empty when nothing does.
    QString doubt(const QString& path) const;
    /// The first field whose draft waits, and why: empty when results are current.
    QString waiting() const;
    QString waiting_path() const;

    void set_source(const QString& path, job::Source source);
    void set_sigma(const QString& path, double si); ///< within job::sigma_spec
    /// While measuring, what is typed into a field was measured, with its tool's spread.
    bool measuring() const { return measuring_; }
    void set_measuring(bool on);
    /// The draft at a key as it is shown; nothing when none waits there.
    std::optional<QString> draft(const std::string& key, units::Quantity quantity) const;

    /// Results of the setups; the last good ones when old().
    const study::Assessment& trial() const { return *trial_.figures; }
    const study::Assessment& fitted() const { return *fitted_.figures; }
    const study::Assessment& looked() const { return *computed().figures; }
    const job::Setup& looked_setup() const { return look_ == Look::Trial ? job_->trial : job_->fitted; }
    /// The last good results of a setup, with what they were computed from: never to be paired with today's job.
    const Result& computed(Look look) const { return look == Look::Trial ? trial_ : fitted_; }
    const Result& computed() const { return computed(look_); }
    /// The outright limit, dry, of the looked-at setup and of Fitted; as old as the results.
    const balance::Limit& limit() const { return *computed().limit; }
    const balance::Limit& fitted_limit() const { return *fitted_.limit; }
    double heads() const { return computed().heads; }
    double fitted_heads() const { return fitted_.heads; }
    /// The standard's bar at one end, on this car; nothing while no setup is called the standard.
    const std::optional<study::BarFigures>& standard(End end) const { return standard_[end]; }
    QString look_path() const { return look_ == Look::Trial ? "trial" : "fitted"; }
    bool old() const { return !waiting_path().isEmpty() || !stale_.isEmpty(); }

    /// Bands of the looked-at setup once computed for the present job.
    const sure::Bands* bands() const { return bands_.get(); }
    /// Of the limit and of balance_of() there (sure::limit_bands); they come after the others.
    const sure::Bands* limit_bands() const { return limit_bands_.get(); }
    /// Once the hand pauses, as what follows.
    const sure::Bands* heads_bands() const { return heads_bands_.get(); }
    /// What Trial changes of Fitted, of sure::Compared; nothing while Fitted is looked at.
    const std::vector<sure::Change>* changes() const { return changes_.get(); }
    /// Half width of an outcome's band over its value; 0 while it is not known. `of_front` names the front bar's
    /// outcome, the rear's follows it.
    double relative_band(study::Outcome of_front, End end) const;
    /// " −9.9 +4.9" or " ± 3.1" in units of `factor`; empty while it is not known.
    QString band_text(study::Outcome of_front, End end, double factor, int decimals) const;
    /// Whether all has been worked out and shown that is going to be: bands, drawn cars, and whatever else workers do
    /// for this window. A window that is looked at before says less, and never something else.
    bool settled() const;
    /// How far tolerances are worked out, for tests of what is shown on the way: not at all, by straight lines, or
    /// wholly, as it is otherwise.
    enum class Depth { Nothing, Straight, Whole };
    void work_up_to(Depth depth);
    void finish_bands(); ///< waits for all of these: for pictures and tests
    void finish_draws(); ///< and for the drawn cars behind the bands' sides

    void start_new(job::Job job = job::blank());
    void open(const std::filesystem::path& path);  ///< throws BadInput; the open job is then untouched
    void save(const std::filesystem::path& named); ///< throws BadInput
    /// Whether the file at path() is no longer the one that was opened or saved last.
    bool changed_on_disk() const { return !path_.empty() && !(store::stamp_of(path_) == stamp_); }
    const store::Stamp& stamp() const { return stamp_; } ///< of the file when it was opened or saved last
    /// Takes up a recovered job as unsaved changes to the file at `path` (empty: never saved), as it was at `stamp`.
    void recover(store::JobFile file, const std::filesystem::path& path, const store::Stamp& stamp);
    /// Of today, whatever is looked at.
    std::shared_ptr<const job::Job> job_as_it_is() const { return now_ ? now_ : job_; }
    std::shared_ptr<const store::Members> attachments() const { return attachments_; }
    /// Takes a file's bytes along with the job, under its name or one beside it, which is returned. Throws BadInput for
    /// one that is too large or cannot be read. Not a step of the history: what an entry no longer names stays.
    std::string attach(const std::filesystem::path& file);
    /// Writes a file made from the job, over another only where it may `replace` it (a file dialog has asked), never
    /// over the job's own. Throws BadInput.
    void write_made(const QString& file, const std::string& bytes, bool replace = true) const;
    /// What other jobs took that were saved here; the window's files keep it.
    const std::vector<book::Took>& shop() const { return shop_; }
    void set_shop(std::vector<book::Took> shop) { shop_ = std::move(shop); }
    const std::filesystem::path& path() const { return path_; } ///< absolute; empty: never saved
    bool unsaved() const { return !undo_.isClean() || recovered_; }

signals:
    void changed();
    void bands_changed();
    void refused(); ///< a change, since the past is looked at

private:
    friend class JobCommand;
    /// The job before the step that an edit with this `merge` would join; null when it would begin a new one.
    const job::Job* before_merging(const QString& merge) const;
    QString find_problem(const std::string& path, const job::Draft& draft) const;
    void show_job(std::shared_ptr<const job::Job> job); ///< of today
    void show(std::shared_ptr<const job::Job> job);
    void replace(store::JobFile file, const std::filesystem::path& path);
    void compute();
    void ask_for_bands(); ///< those that are there are no longer of what is looked at
    void stop_bands();
    void start_bands();
    void start_slow_bands();
    void start_draws();

    std::shared_ptr<const job::Job> job_, now_; ///< now_: the job while the past is looked at, else nothing
    int back_at_ = -1;
    Look look_before_ = Look::Trial;
    std::shared_ptr<const store::Members> attachments_;
    std::vector<book::Took> shop_;
    std::filesystem::path path_;
    store::Stamp stamp_;
    bool recovered_ = false, measuring_ = false;
    QUndoStack undo_;
    units::System units_ = units::System::Metric;
    Look look_ = Look::Trial;
    Result trial_{Look::Trial, {}, {}, {}, {}}, fitted_{Look::Fitted, {}, {}, {}, {}};
    PerAxle<std::optional<study::BarFigures>> standard_;
    std::shared_ptr<const job::Job> standard_of_;
    QString stale_;
    mutable std::optional<std::map<std::string, QString>> doubts_;
    mutable std::map<std::string, QString> problems_; ///< of the drafts, as far as asked for
    using Bands = std::shared_ptr<const sure::Bands>;
    Bands bands_, limit_bands_, heads_bands_;
    std::vector<Bands> gone_; ///< until a worker takes them apart, which takes long
    std::shared_ptr<const std::vector<sure::Change>> changes_;
    struct FittedFigures {
        std::shared_ptr<const job::Job> of;
        sure::Figures figures;
    };
    std::shared_ptr<const FittedFigures> fitted_figures_; ///< kept, since Fitted seldom changes
    QTimer *bands_timer_, *pause_timer_;
    Depth depth_ = Depth::Whole;
    Worker draws_, slow_bands_worker_, bands_worker_; ///< last: they end before what they post to
};

} // namespace dervish::app
