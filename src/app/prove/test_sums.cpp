#include "app/prove/test_sums.h"

#include "app/words.h"
#include "core/edit/parts.h"
#include "core/edit/tests.h"
#include "core/proof/predict.h"

#include <algorithm>
#include <cmath>

namespace dervish::app {

TestSums::TestSums(Document& document, QObject* parent) : QObject(parent), document_(document) {
    connect(&document_, &Document::changed, this, [this] { take_job(); });
    take_job();
}

const job::PlannedTest* TestSums::test() const {
    const auto& tests = document_.job().tests;
    return index_ >= 0 && index_ < static_cast<int>(tests.size()) ? &tests[static_cast<std::size_t>(index_)] : nullptr;
}

const proof::Protocol* TestSums::protocol() const { return test() ? proof::protocol_of(*test()) : nullptr; }

bool TestSums::hidden() const {
    const job::PlannedTest* open = job::open_guess(document_.job());
    return open && open != test();
}

void TestSums::take_job() {
    const auto count = static_cast<int>(document_.job().tests.size());
    index_ = std::clamp(index_, 0, std::max(0, count - 1));
    run_ = test() ? std::clamp(run_, 0, std::max(0, static_cast<int>(test()->runs.size()) - 1)) : 0;
    if (predicting_) { // of another car or plan than now
        predict_worker_.stop();
        predicting_ = false;
    }
    failed_.clear();
    emit changed();
}

void TestSums::show_test(int index) {
    index_ = index;
    run_ = 0;
    take_job();
    show_run(test() ? static_cast<int>(test()->runs.size()) - 1 : 0);
}

void TestSums::show_run(int run) {
    run_ = std::max(0, run);
    take_job();
}

bool TestSums::run_shown(std::size_t run) const { return !hidden() && test() && test()->runs[run].felt; }

void TestSums::predict() {
    if (!test() || !protocol()) return;
    job::PlannedTest planned = *test();
    for (job::TestState& state : planned.states) state.car = edit::as_now(document_.job(), state.car);
    predicting_ = true;
    failed_.clear();
    predict_worker_.start([this, planned, index = index_](const auto& cancelled, const auto& post) mutable {
        QString wrong;
        try {
            planned = proof::predicted(planned, cancelled);
            if (cancelled()) return;
        } catch (const BadInput& e) {
            wrong = qs(e.what());
        }
        post([this, planned, index, wrong] {
            predicting_ = false;
            failed_ = wrong;
            if (wrong.isEmpty())
                document_.edit(tr("prediction"), {}, [&](job::Job& job) { edit::freeze(job, index, planned); });
            else
                emit changed();
            emit predicted();
        });
    });
    predict_worker_.wait_for_post(std::chrono::milliseconds(300));
    if (predicting_) emit changed();
}

void TestSums::ask() {
    if (!test() || !protocol() || hidden() || !test()->predicted()) {
        asked_worker_.stop();
        asked_of_.reset();
        asked_ = {};
        return;
    }
    if (asked_of_ && *asked_of_ == *test()) return;
    asked_of_ = *test();
    asked_ = {};
    std::vector<job::Setup> setups{document_.job().fitted, document_.job().trial};
    setups.insert(setups.end(), document_.job().kept.begin(), document_.job().kept.end());
    asked_worker_.start([this, of = *test(), setups](const auto& cancelled, const auto& post) {
        Asked found;
        double most = 0;
        for (int s = 0; s < static_cast<int>(of.states.size()) && !proof::protocol(of.protocol).channels.empty(); ++s) {
            const proof::Verdict v = proof::compare(of, s, 0);
            const bool wrong = v.agreement == proof::Agreement::Disagrees || v.agreement == proof::Agreement::Doubtful;
            if (wrong && std::abs(v.z) > most) {
                most = std::abs(v.z);
                found.state = s;
            }
        }
        if (found.state >= 0) found.faults = proof::faults(of, found.state, setups);
        if (of.states.size() > 1 && !cancelled()) found.said = proof::said_and_felt(of, 0, 1);
        post([this, found] {
            asked_ = found;
            emit changed();
        });
    });
}

void TestSums::ask_for_others() {
    const bool asked = test() && protocol() && !hidden() &&
                       (test()->asks == job::Asks::Which     ? test()->states.size() > 1
                        : test()->asks == job::Asks::Unknown ? !test()->unknown.empty()
                                                             : true);
    if (!asked) {
        rounds_.reset();
        others_worker_.stop();
        others_asked_ = false;
        return;
    }
    job::PlannedTest now = *test();
    if (!now.predicted())
        for (job::TestState& state : now.states) state.car = edit::as_now(document_.job(), state.car);
    const auto same = [&](const OthersOf& o) {
        return o.of.protocol == now.protocol && o.of.states == now.states && o.of.order == now.order &&
               o.of.asks == now.asks && o.of.unknown == now.unknown;
    };
    if (others_asked_ && same(others_.front())) return;
    others_asked_ = true;
    if (const auto known = std::ranges::find_if(others_, same); known != others_.end()) {
        std::rotate(others_.begin(), known, known + 1);
    } else {
        others_.push_front({now, {}, {}, 0});
        if (others_.size() > others_kept) others_.pop_back();
    }
    rounds_ = !now.predicted() || now.asks != job::Asks::Which || protocol()->channels.empty()
                  ? std::nullopt
                  : proof::rounds_needed(now, 0, 0, 1);
    go_on_with_others();
}

namespace {
std::vector<const proof::Protocol*> kinds_that_read() {
    std::vector<const proof::Protocol*> out;
    for (const proof::Protocol& p : proof::protocols())
        if (!p.channels.empty()) out.push_back(&p);
    return out;
}
} // namespace

std::optional<TestSums::Answered> TestSums::others_answered() const {
    if (!others_asked_) return {};
    return Answered{others_.front().tried.size(), kinds_that_read().size()};
}

void TestSums::stop_others() {
    others_worker_.stop();
    emit changed();
}

void TestSums::go_on_with_others() {
    const job::PlannedTest now = others_.front().of;
    std::vector<const proof::Protocol*> left = kinds_that_read();
    std::erase_if(left, [&](const proof::Protocol* p) { return others_.front().tried.contains(p->key); });
    // Its own kind, then those that are quick to work out.
    std::ranges::stable_sort(left, {},
                             [&](const proof::Protocol* p) { return p->key == now.protocol ? -1 : int(p->in_time); });
    others_worker_.start([this, now, left](const auto& cancelled, const auto& post) {
        for (const proof::Protocol* p : left) {
            if (cancelled()) return;
            const bool own = p->key == now.protocol;
            job::PlannedTest other = own ? now : proof::as_kind(now, *p);
            other.runs.clear();
            std::optional<proof::Worth> worth;
            try {
                if (!own || !now.predicted()) {
                    other = proof::predicted(other, cancelled);
                    if (cancelled()) return;
                }
                worth = proof::worth(other);
            } catch (const BadInput&) { // not of this car
            }
            post([this, p, own, worth] {
                others_.front().tried.insert(p->key);
                if (own)
                    others_.front().own = worth ? worth->score() : 0;
                else if (worth && worth->score() > 0)
                    others_.front().found.push_back({p, *worth});
                std::ranges::stable_sort(others_.front().found, std::greater{},
                                         [](const Other& o) { return o.worth.score(); });
                emit changed();
            });
        }
    });
}

const std::vector<TestSums::Other>& TestSums::others() const {
    static const std::vector<Other> none;
    return others_asked_ ? others_.front().found : none;
}

const TestSums::Other* TestSums::better() const {
    if (others().empty() || !test() || !others_.front().tried.contains(test()->protocol)) return nullptr;
    return others().front().worth.score() > others_.front().own ? &others().front() : nullptr;
}

void TestSums::finish() {
    predict_worker_.finish();
    ask();
    asked_worker_.finish();
}

void TestSums::finish_others() {
    ask_for_others();
    others_worker_.finish();
}

} // namespace dervish::app
