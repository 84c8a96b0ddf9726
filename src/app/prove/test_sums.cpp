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

void TestSums::forget_asked() {
    asked_.state = -1;
    asked_.faults.clear();
    asked_.said.clear();
}

void TestSums::ask() {
    if (!test() || !protocol() || hidden() || !test()->predicted()) {
        asked_worker_.stop();
        asked_of_.reset();
        forget_asked();
        return;
    }
    if (asked_of_ && *asked_of_ == *test()) return;
    asked_of_ = *test();
    forget_asked();
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
            asked_.state = found.state;
            asked_.faults = found.faults;
            asked_.said = found.said;
            emit changed();
        });
    });
}

void TestSums::ask_for_others() {
    if (!test() || !protocol() || hidden() || !test()->predicted() || test()->states.size() < 2) {
        rounds_.reset();
        others_worker_.stop();
        others_of_.reset();
        asked_.others.clear();
        return;
    }
    const auto same_cars = [&](const job::PlannedTest& a, const job::PlannedTest& b) {
        return a.protocol == b.protocol && a.states == b.states && a.order == b.order;
    };
    if (others_of_ && same_cars(*others_of_, *test())) return;
    others_of_ = *test();
    asked_.others.clear();
    rounds_ = protocol()->channels.empty() ? std::nullopt : proof::rounds_needed(*test(), 0, 0, 1);
    others_worker_.start([this, of = *test()](const auto& cancelled, const auto& post) {
        // Those that are quick to work out first.
        std::vector<const proof::Protocol*> all;
        for (const proof::Protocol& p : proof::protocols())
            if (p.key != of.protocol && !p.channels.empty()) all.push_back(&p);
        std::ranges::stable_sort(all, {}, [](const proof::Protocol* p) { return p->part < 1; });
        for (const proof::Protocol* p : all) {
            if (cancelled()) return;
            job::PlannedTest other;
            other.protocol = p->key;
            other.states = {of.states[0], of.states[1]};
            other.order = of.order;
            try {
                const auto found = proof::predict(other, cancelled);
                if (cancelled()) return;
                for (std::size_t s = 0; s < 2; ++s) other.states[s].prediction = found[s];
                const auto power = proof::power(other, 0, 0, 1);
                if (!power || power->none()) continue; // there is nothing to be shown
                post([this, p, chance = power->chance] {
                    asked_.others.push_back({p, chance});
                    std::ranges::stable_sort(asked_.others, std::greater{}, &Asked::Other::chance);
                    emit changed();
                });
            } catch (const BadInput&) { // not of this car
            }
        }
    });
}

void TestSums::finish() {
    predict_worker_.finish();
    ask();
    asked_worker_.finish();
    others_worker_.finish();
}

} // namespace dervish::app
