#include "app/book/story_view.h"

#include "app/words.h"
#include "core/job/dates.h"
#include "core/say/book_words.h"

#include <QDate>
#include <algorithm>

namespace dervish::app {

StoryView::StoryView(Document& document, QObject* parent) : QObject(parent), document_(document) {
    connect(&document_, &Document::changed, this, [this] {
        const job::Job& job = document_.job();
        if (!(job.book == book_ && job.tests == tests_ && job.upkeep == upkeep_)) take_job();
        emit changed();
    });
    take_job();
}

QString StoryView::today() const { return qs(job::date_of(static_cast<int>(now_.day))); }

void StoryView::take_job() {
    const job::Job& job = document_.job();
    const int entry = entry_index(), test = chosen_ ? moments_[*chosen_].test : -1;
    const std::size_t entries = book_.size();
    book_ = job.book;
    tests_ = job.tests;
    upkeep_ = job.upkeep;
    moments_ = book::moments(job);
    now_ = book::now_of(moments_, QDate::currentDate().toString(Qt::ISODate).toStdString());
    any_distance_ = std::ranges::any_of(moments_, &book::Moment::odometer_said);
    spans_ = book::spans(job, moments_, now_);
    gaps_ = book::gaps(job, moments_, now_);
    due_ = book::due(job, now_);
    agreements_.clear();
    for (const job::PlannedTest& t : job.tests) agreements_.push_back(say::agreement_of_all(t));
    chosen_.reset();
    // What was just written is looked at; else what was looked at before.
    const int wanted = job.book.size() == entries + 1 && entries > 0 ? static_cast<int>(entries) : entry;
    for (std::size_t i = 0; i < moments_.size(); ++i)
        if ((moments_[i].entry >= 0 && moments_[i].entry == wanted) ||
            (wanted < 0 && test >= 0 && moments_[i].test == test))
            chosen_ = i;
    if (!chosen_ && !moments_.empty()) chosen_ = moments_.size() - 1;
    look_through();
}

void StoryView::look_through() {
    shown_.assign(moments_.size(), true);
    for (std::size_t i = 0; i < moments_.size(); ++i)
        shown_[i] = book::is_wanted(document_.job(), moments_[i], wanted_);
}

void StoryView::set_by_distance(bool on) {
    by_distance_ = on;
    emit changed();
}

void StoryView::set_wanted(const book::Wanted& wanted) {
    wanted_ = wanted;
    look_through();
    if (!chosen_ || !shown_[*chosen_]) {
        const auto found = std::ranges::find(shown_, true);
        if (found != shown_.end()) chosen_ = static_cast<std::size_t>(found - shown_.begin());
    }
    emit changed();
}

void StoryView::choose(std::optional<std::size_t> moment) {
    chosen_ = moment;
    emit changed();
}

void StoryView::choose_entry(int entry) {
    const auto at = std::ranges::find(moments_, entry, &book::Moment::entry);
    if (at != moments_.end()) choose(static_cast<std::size_t>(at - moments_.begin()));
}

void StoryView::step(int by) {
    const auto count = static_cast<int>(moments_.size());
    for (int at = (chosen_ ? static_cast<int>(*chosen_) : by > 0 ? -1 : count) + by; at >= 0 && at < count; at += by)
        if (shown_[static_cast<std::size_t>(at)]) return choose(static_cast<std::size_t>(at));
}

int StoryView::entry_index() const { return chosen_ ? moments_[*chosen_].entry : -1; }

const job::Entry* StoryView::entry() const {
    const int at = entry_index();
    return at >= 0 ? &document_.job().book[static_cast<std::size_t>(at)] : nullptr;
}

const job::PlannedTest* StoryView::test() const {
    const int at = chosen_ ? moments_[*chosen_].test : -1;
    return at >= 0 ? &document_.job().tests[static_cast<std::size_t>(at)] : nullptr;
}

int StoryView::stood_by() const { return chosen_ ? book::stood_by(document_.job(), moments_, *chosen_) : -1; }

} // namespace dervish::app
