#pragma once
#include "app/document.h"
#include "core/book/upkeep.h"

#include <QObject>

namespace dervish::app {

/// What of the book is looked at: which axis, what is looked for, which moment is chosen. Worked out anew when the book
/// or the tests change.
class StoryView : public QObject {
    Q_OBJECT

public:
    explicit StoryView(Document& document, QObject* parent = nullptr);
    const std::vector<book::Moment>& moments() const { return moments_; }
    const std::vector<book::Span>& spans() const { return spans_; }
    const std::vector<book::Gap>& gaps() const { return gaps_; }
    const std::vector<book::Due>& due() const { return due_; }
    proof::Agreement agreement(int test) const { return agreements_[static_cast<std::size_t>(test)]; }
    /// Today, or the book's last day where that is later, and the furthest that the clock was read.
    const book::Now& now() const { return now_; }
    QString today() const; ///< of now(), "2031-05-11"

    bool by_distance() const { return by_distance_ && any_distance_; }
    void set_by_distance(bool on);
    double place_of(const book::Moment& moment) const { return by_distance() ? moment.odometer : moment.day; }

    const book::Wanted& wanted() const { return wanted_; }
    void set_wanted(const book::Wanted& wanted);
    bool is_wanted(std::size_t moment) const { return shown_[moment]; }

    std::optional<std::size_t> chosen() const { return chosen_; }
    void choose(std::optional<std::size_t> moment);
    void choose_entry(int entry);    ///< of the job's book
    void step(int by);               ///< to the next that is wanted
    const job::Entry* entry() const; ///< the chosen one; null: a test, or none
    const job::PlannedTest* test() const;
    int entry_index() const; ///< -1: none
    /// The entry that tells how the car stood at the chosen moment; -1: none.
    int stood_by() const;

signals:
    void changed();

private:
    void take_job();
    void look_through();
    Document& document_;
    SharedList<job::Entry> book_; ///< that it is of
    SharedList<job::PlannedTest> tests_;
    std::vector<job::Upkeep> upkeep_;
    std::vector<book::Moment> moments_;
    std::vector<book::Span> spans_;
    std::vector<book::Gap> gaps_;
    std::vector<book::Due> due_;
    std::vector<proof::Agreement> agreements_; ///< of the tests
    book::Now now_{0, 0};
    std::vector<bool> shown_;
    book::Wanted wanted_;
    std::optional<std::size_t> chosen_;
    bool by_distance_ = true, any_distance_ = false;
};

} // namespace dervish::app
