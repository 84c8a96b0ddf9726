#pragma once
#include "app/document.h"
#include "app/worker.h"
#include "core/say/proof_words.h"

#include <QObject>
#include <deque>
#include <set>

namespace dervish::app {

/// The test that is looked at, the run of it, and what is worked out of it off the window's thread.
class TestSums : public QObject {
    Q_OBJECT

public:
    explicit TestSums(Document& document, QObject* parent = nullptr);
    int index() const { return index_; }
    const job::PlannedTest* test() const; ///< null: there is none
    const proof::Protocol* protocol() const;
    /// Another test's guess is open: nothing of this one may be shown.
    bool hidden() const;
    void show_test(int index);
    int run() const { return run_; }
    void show_run(int run);
    /// What of a run may be shown: what was felt in it is typed.
    bool run_shown(std::size_t run) const;

    /// Has the predictions made and frozen; predicted() tells when they are.
    void predict();
    bool predicting() const { return predicting_; }
    const QString& failed() const { return failed_; }

    /// What would explain a wrong verdict, and what the sum says beside what was felt.
    struct Asked {
        int state = -1; ///< that the faults are of
        std::vector<proof::Fault> faults;
        std::vector<proof::SaidAndFelt> said;
    };
    const Asked& asked() const { return asked_; }
    void ask(); ///< has them brought up to date
    /// A kind of test, and how much it would tell of the question in the runs planned.
    struct Other {
        const proof::Protocol* protocol;
        proof::Worth worth;
    };
    /// All other kinds as far as worked out, the best first. Before the prediction only which is better may be shown.
    const std::vector<Other>& others() const;
    const Other* better() const; ///< the best of them, where it tells more than this kind; null until that is known
    void ask_for_others();
    /// Of the kinds that are asked how much they would tell, how many have answered; nothing where none is asked.
    struct Answered {
        std::size_t count, of;
        bool all() const { return count == of; }
    };
    std::optional<Answered> others_answered() const;
    bool asking_others() const { return others_worker_.started() && !others_answered()->all(); }
    void stop_others(); ///< what has answered stays
    void go_on_with_others();
    std::optional<int> rounds_needed() const { return rounds_; } ///< to tell the first two states apart
    void finish();                                               ///< waits for all but the others: pictures and tests
    void finish_others();                                        ///< a minute

signals:
    void changed();
    void predicted();

private:
    void take_job();
    Document& document_;
    int index_ = 0, run_ = 0;
    bool predicting_ = false;
    QString failed_;
    Asked asked_;
    std::optional<job::PlannedTest> asked_of_;
    struct OthersOf {
        job::PlannedTest of; ///< its cars as they would be predicted now
        std::set<std::string> tried;
        std::vector<Other> found; ///< the test's own kind apart
        double own = 0;           ///< score of that
    };
    static constexpr std::size_t others_kept = 8; ///< a minute's work each
    std::deque<OthersOf> others_;                 ///< the one that is worked on or was last first
    bool others_asked_ = false;                   ///< the first of them is of the test that is shown
    std::optional<int> rounds_;
    Worker predict_worker_, asked_worker_, others_worker_; ///< last: they end before what they post to
};

} // namespace dervish::app
