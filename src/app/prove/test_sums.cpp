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
            const auto all = proof::predict(planned, cancelled);
            if (cancelled()) return;
            for (std::size_t s = 0; s < all.size(); ++s) planned.states[s].prediction = all[s];
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
    if (!test() || !protocol() || hidden() || !test()->predicted() || test()->states.size() < 2) {
        rounds_.reset();
        others_worker_.stop();
        return;
    }
    const auto same = [&](const OthersOf& o) {
        return o.of.protocol == test()->protocol && o.of.states == test()->states && o.of.order == test()->order;
    };
    if (others_worker_.started() && same(others_.front())) return;
    others_worker_.stop();
    if (const auto known = std::ranges::find_if(others_, same); known != others_.end()) {
        std::rotate(others_.begin(), known, known + 1);
    } else {
        others_.push_front({*test(), {}, {}});
        if (others_.size() > others_kept) others_.pop_back();
    }
    rounds_ = protocol()->channels.empty() ? std::nullopt : proof::rounds_needed(*test(), 0, 0, 1);
    std::vector<const proof::Protocol*> left;
    for (const proof::Protocol& p : proof::protocols())
        if (p.key != test()->protocol && !p.channels.empty() && !others_.front().tried.contains(p.key))
            left.push_back(&p);
    // Those that are quick to work out first.
    std::ranges::stable_sort(left, {}, [](const proof::Protocol* p) { return p->part < 1; });
    others_worker_.start([this, of = *test(), left](const auto& cancelled, const auto& post) {
        for (const proof::Protocol* p : left) {
            if (cancelled()) return;
            job::PlannedTest other;
            other.protocol = p->key;
            other.states = {of.states[0], of.states[1]};
            other.order = of.order;
            std::optional<proof::Power> power;
            try {
                const auto found = proof::predict(other, cancelled);
                if (cancelled()) return;
                for (std::size_t s = 0; s < 2; ++s) other.states[s].prediction = found[s];
                power = proof::power(other, 0, 0, 1);
            } catch (const BadInput&) { // not of this car
            }
            post([this, p, power] {
                others_.front().tried.insert(p->key);
                if (!power || power->none()) return; // there is nothing to be shown
                others_.front().found.push_back({p, power->chance});
                std::ranges::stable_sort(others_.front().found, std::greater{}, &Other::chance);
                emit changed();
            });
        }
    });
}

const std::vector<TestSums::Other>& TestSums::others() const {
    static const std::vector<Other> none;
    return others_worker_.started() ? others_.front().found : none;
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
