#include "core/job/job.h"

#include <algorithm>
#include <charconv>
#include <set>

namespace dervish::job {

bool is_aboard(const Load& load, const Setup& setup) {
    return std::find(setup.aboard.begin(), setup.aboard.end(), load.id) != setup.aboard.end();
}

double person_of(const Vehicle& v) {
    const double mass =
        v.front_left_load.value + v.front_right_load.value + v.rear_left_load.value + v.rear_right_load.value;
    return v.handling.person.value > 0 ? v.handling.person.value : std::min(80.0, 0.1 * mass);
}

namespace {
bool speaks_of(const RigTest& t, const Assembly& a) {
    return t.bar == a.bar.id && (t.check.blocks || t.mounts == a.mounts.id);
}
bool speaks_of(const SetupTest& t, const Assembly& a) { return t.bar == a.bar.id && t.links == a.links.id; }

template <class T> auto found(T& tests, const Assembly& a) {
    return std::find_if(tests.begin(), tests.end(), [&](const auto& t) { return speaks_of(t, a); });
}
} // namespace

bool PlannedTest::predicted() const {
    return !states.empty() && std::ranges::all_of(states, [](const TestState& s) { return s.prediction.made; });
}

const PlannedTest* open_guess(const Job& job) {
    const auto open = std::ranges::find_if(job.tests, [](const PlannedTest& t) { return t.guess_open(); });
    return open == job.tests.end() ? nullptr : &*open;
}

const RigCheck& rig_of(const Job& job, const Assembly& assembly) {
    static const RigCheck nothing;
    const auto at = found(job.rig_tests, assembly);
    return at == job.rig_tests.end() ? nothing : at->check;
}

const SetupChecks& checks_of(const Job& job, const Assembly& assembly) {
    static const SetupChecks nothing;
    const auto at = found(job.setup_tests, assembly);
    return at == job.setup_tests.end() ? nothing : at->checks;
}

RigCheck& rig_for(Job& job, const Assembly& assembly) {
    const auto at = found(job.rig_tests, assembly);
    if (at != job.rig_tests.end()) return at->check;
    return job.rig_tests.emplace_back(RigTest{assembly.bar.id, assembly.mounts.id, {}}).check;
}

SetupChecks& checks_for(Job& job, const Assembly& assembly) {
    const auto at = found(job.setup_tests, assembly);
    if (at != job.setup_tests.end()) return at->checks;
    return job.setup_tests.emplace_back(SetupTest{assembly.bar.id, assembly.links.id, {}}).checks;
}

std::string fresh_id(const Job& job, const std::string& kind) {
    int last = 0;
    const auto seen = [&](const std::string& id) {
        int number = 0;
        if (id.starts_with(kind + "-")) std::from_chars(id.data() + kind.size() + 1, id.data() + id.size(), number);
        last = std::max(last, number);
    };
    const auto part = [&](const char*, const Part& p) { seen(p.id); };
    each_part_of_job(job, part);
    for (const PlannedTest& t : job.tests)
        for (const TestState& state : t.states) each_part(state.car.setup, part);
    for (const Entry& e : job.book) {
        for (const std::string& id : e.parts) seen(id);
        if (e.car) each_part(e.car->setup, part);
    }
    for (const RigTest& t : job.rig_tests)
        for (const std::string& id : {t.bar, t.mounts}) seen(id);
    for (const SetupTest& t : job.setup_tests)
        for (const std::string& id : {t.bar, t.links}) seen(id);
    return kind + "-" + std::to_string(last + 1);
}

void name_parts(Job& job) {
    std::vector<Setup*> setups{&job.fitted, &job.trial, &job.standard};
    for (Setup& s : job.kept) setups.push_back(&s);
    const auto name = [&](const auto& places) { // calls its argument with every (kind, part) that may be one part
        places([&]<class P>(const char* kind, P& part) {
            if (!part.id.empty()) return;
            const P nameless = part;
            const std::string id = fresh_id(job, kind);
            places([&]<class Q>(const char*, Q& other) {
                if constexpr (std::is_same_v<P, Q>)
                    if (other == nameless) other.id = id;
            });
        });
    };
    for (AxleSetup Setup::*axle : {&Setup::front, &Setup::rear})
        name([&](const auto& f) {
            for (Setup* s : setups) each_axle_part(s->*axle, f);
        });
    name([&](const auto& f) {
        for (Setup* s : setups) each_body_part(*s, f);
    });
}

} // namespace dervish::job
