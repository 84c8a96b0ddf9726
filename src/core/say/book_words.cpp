#include "core/say/book_words.h"

#include <algorithm>
#include <cmath>

namespace dervish::say {
namespace {
std::string grouped(double value) {
    std::string out = units::fixed(std::abs(value), 0);
    for (int at = static_cast<int>(out.size()) - 3; at > 0; at -= 3) out.insert(static_cast<std::size_t>(at), "\u00a0");
    return value < 0 ? "-" + out : out;
}
std::string counted(std::size_t n, const char* one, const char* more) {
    return std::to_string(n) + " " + (n == 1 ? one : more);
}
} // namespace

std::string words_of(EntryKind kind) {
    constexpr const char* words[] = {"fitted", "found so", "failed",     "serviced", "decided",
                                     "noted",  "removed",  "felt again", "driven"};
    return words[static_cast<std::size_t>(kind)];
}

std::string words_of(Wears use) {
    constexpr const char* words[] = {"a day on the road", "a day on a track", "a day of rocks", "a day of water"};
    return words[static_cast<std::size_t>(use)];
}

std::string words_of(Whereabouts at) {
    constexpr const char* words[] = {"on the shelf", "drawn up", "ordered", "sold", "scrapped"};
    return words[static_cast<std::size_t>(at)];
}

const char* look_words(int which) {
    constexpr const char* words[] = {"straight on a flat table", "rust where the mounts sit", "eyes or bores oval",
                                     "threads", "joints"};
    return words[std::clamp(which, 0, look_count - 1)];
}

std::string words_of(const book::Thing& t) {
    std::string out = t.end ? (*t.end == End::Front ? "front " : "rear ") : "";
    out += t.kind;
    if (!t.part.name.empty()) return out + ", " + t.part.name;
    return t.end ? out : out + " (" + t.id + ")";
}

std::string standing_words(const book::Thing& t) {
    std::string out = t.on_car ? "on the car" : words_of(t.whereabouts);
    if (!t.on_car && t.on_trial) out += ", on Trial";
    const auto bad = std::ranges::count(t.record.looked, static_cast<int>(Looked::Bad));
    if (bad > 0) out += "; " + counted(static_cast<std::size_t>(bad), "thing bad", "things bad");
    return out;
}

std::string distance_words(double metres, units::System system) {
    if (!(metres != 0)) return {};
    const units::Unit unit = units::shown(units::Quantity::Distance, system);
    return grouped(metres / unit.factor) + " " + std::string(unit.symbol);
}

std::string time_words(double days) {
    const long n = std::lround(std::abs(days));
    if (n >= 730) return std::to_string(std::lround(static_cast<double>(n) / 365.25)) + " years";
    if (n >= 92) return std::to_string(std::lround(static_cast<double>(n) / 30.44)) + " months";
    return std::to_string(n) + (n == 1 ? " day" : " days");
}

std::string words_of(const Job& job, const book::Gap& gap, units::System system) {
    const double metres = gap.odometer_end - gap.odometer;
    const std::string far = metres > 0 ? distance_words(metres, system) : time_words(gap.day_end - gap.day);
    if (gap.what == book::Gap::What::WithoutBar)
        return far + " without the " + (gap.end == End::Front ? "front" : "rear") + " bar";
    const Entry& e = job.book[static_cast<std::size_t>(gap.entry)];
    return distance_words(e.more.driven_so, system) + " driven so: " + e.reason;
}

std::string place_words(const Upkeep& upkeep) {
    std::string out = upkeep.of;
    std::ranges::replace(out, '/', ' ');
    return out;
}

std::string interval_words(const Upkeep& u, units::System system) {
    std::string out;
    const auto add = [&](const std::string& words) { out += (out.empty() ? "" : ", ") + words; };
    if (u.every > 0) add("every " + distance_words(u.every, system));
    if (u.days > 0) add(u.days == 365 ? "every year" : "every " + time_words(u.days));
    if (u.after != Wears::Road) add("after each " + words_of(u.after).substr(2));
    return out;
}

std::string words_of(const Job& job, const book::Due& d, units::System system) {
    const Upkeep& u = job.upkeep[d.upkeep];
    std::string out;
    const auto add = [&](const std::string& words) { out += (out.empty() ? "" : "; ") + words; };
    if (d.by_use) return "due: " + words_of(u.after) + " lies behind it";
    // Of what is not due, the nearer.
    const bool due = d.when == book::When::Due;
    const double by_metres = d.metres ? *d.metres / u.every : 1e9, by_days = d.days ? *d.days / u.days : 1e9;
    if (d.metres && (due ? *d.metres <= 0 : by_metres <= by_days)) {
        const bool now = std::abs(*d.metres) < 500;
        const std::string far = distance_words(std::abs(*d.metres), system);
        add(now ? "due now by distance" : *d.metres > 0 ? "in " + far : "overdue by " + far);
    }
    if (d.days && (due ? *d.days <= 0 : by_days < by_metres))
        add(std::abs(*d.days) < 0.5 ? "due today"
            : *d.days > 0           ? "in " + time_words(*d.days)
                                    : "overdue by " + time_words(*d.days));
    return out;
}

std::string story_words(const Job& job, const std::vector<book::Moment>& all, units::System system) {
    if (all.empty()) return {};
    double first = 0, last = 0;
    std::size_t setups = 0, decided = 0, failed = 0;
    std::optional<double> begin, end;
    for (const book::Moment& m : all) {
        if (m.odometer_said) {
            if (first == 0) first = m.odometer;
            last = std::max(last, m.odometer);
        }
        if (m.day_said) {
            if (!begin) begin = m.day;
            end = m.day;
        }
        if (m.entry < 0 || !job.book[static_cast<std::size_t>(m.entry)].more.struck.empty()) continue;
        const EntryKind kind = job.book[static_cast<std::size_t>(m.entry)].kind;
        setups += kind == EntryKind::Fitted || kind == EntryKind::Found;
        decided += kind == EntryKind::Decided;
        failed += kind == EntryKind::Failed;
    }
    std::string out;
    if (first > 0) out = distance_words(first, system) + " to " + distance_words(last, system) + " · ";
    if (begin) out += date_of(static_cast<int>(*begin)) + " to " + date_of(static_cast<int>(*end)) + " · ";
    return out + counted(setups, "setup", "setups") + ", " + counted(job.tests.size(), "test", "tests") + ", " +
           counted(decided, "decision", "decisions") + ", " + counted(failed, "failure", "failures");
}

proof::Agreement agreement_of_all(const PlannedTest& test) {
    const proof::Protocol* p = proof::protocol_of(test);
    if (!p || p->channels.empty() || !test.predicted()) return proof::Agreement::NothingRead;
    return proof::compare(test).agreement;
}

} // namespace dervish::say
