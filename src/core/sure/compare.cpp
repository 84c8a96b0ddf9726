#include "core/sure/compare.h"
#include "core/job/fields.h"
#include "core/job/parts.h"
#include "core/model/tyres.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace dervish::sure {
Figures together(const Bands& tally, const Bands& limit, const Bands& heads) {
    std::map<std::string, Share> shares;
    const auto put = [&](const Bands& of, std::size_t count, std::size_t place) {
        for (const Share& share : of.shares) {
            Share& whole =
                shares.try_emplace(share.path, Share{share.path, share.label, share.source, {}}).first->second;
            whole.change.resize(compared_count);
            for (std::size_t i = 0; i < count; ++i) whole.change[place + i] = share.change[i];
        }
    };
    put(tally, outcome_count, 0);
    put(limit, 1, ComparedLimit);
    put(heads, 1, ComparedHeads);
    Figures out;
    std::copy(tally.nominal.begin(), tally.nominal.end(), out.value.begin());
    if (out.value[LiftHeight] >= outcome_names[LiftHeight].ends_at)
        for (const Outcome bound : {LiftHeight, FrontTravel, RearTravel})
            out.value[bound] = std::numeric_limits<double>::quiet_NaN();
    out.value[ComparedLimit] = limit.nominal[LimitLateral];
    out.value[ComparedHeads] = heads.nominal[0];
    out.bands.nominal.assign(out.value.begin(), out.value.end());
    out.bands.sigma.assign(compared_count, 0);
    for (auto& [path, share] : shares) {
        for (std::size_t i = 0; i < compared_count; ++i) out.bands.sigma[i] += share.variance(i);
        out.bands.shares.push_back(std::move(share));
    }
    for (double& s : out.bands.sigma) s = std::sqrt(s);
    return out;
}

Figures figures_of(const Vehicle& vehicle, const Setup& setup, const std::function<bool()>& cancelled) {
    return together(bands(vehicle, setup, cancelled), limit_bands(vehicle, setup, Ground::Dry, cancelled),
                    propagate(vehicle, setup, heads(), cancelled));
}

std::set<std::string> alike(const Setup& before, const Setup& after) {
    Job a, b;
    a.trial = before;
    b.trial = after;
    std::map<std::string, Measured> was;
    for (const job::FieldRef& f : job::fields(a, "trial")) was.emplace(f.path, *f.value);
    std::vector<std::string> others; // where another part stands, below which only its steel may be the same
    const auto find_others = [&](const auto& of, const auto& now, const std::string& at, auto&& each) {
        std::vector<std::string> ids;
        each(of, [&](const char*, const job::Part& p) { ids.push_back(p.id); });
        std::size_t i = 0;
        each(now, [&](const char* kind, const job::Part& p) {
            if (p.id != ids[i++]) others.push_back(at + kind + "/");
        });
    };
    for (const End end : both_ends)
        find_others(before[end], after[end], std::string("trial/") + name_of(end) + "/",
                    [](const auto& of, auto&& f) { job::each_axle_part(of, f); });
    find_others(before, after, "trial/", [](const auto& of, auto&& f) { job::each_body_part(of, f); });
    const auto of_another = [&](const std::string& path) {
        for (const char* steel : {"/bar/youngs_modulus", "/bar/shear_modulus", "/bar/density"})
            if (path.ends_with(steel)) return false;
        return std::ranges::any_of(others, [&](const std::string& at) { return path.starts_with(at); });
    };
    std::set<std::string> out;
    for (const job::FieldRef& f : job::fields(b, "trial"))
        if (const auto same = was.find(f.path); same != was.end() && same->second == *f.value && !of_another(f.path))
            out.insert(f.path);
    return out;
}

std::vector<double> difference_sigma(const Setup& before, const std::vector<Share>& of_before, const Setup& after,
                                     const std::vector<Share>& of_after, std::size_t count) {
    const std::set<std::string> same = alike(before, after);
    std::map<std::string, const Share*> first;
    for (const Share& share : of_before) first[share.path] = &share;
    std::vector<double> out(count, 0);
    for (const Share& share : of_after) {
        const auto found = first.find(share.path);
        const bool shared = found != first.end() && !of_each_time(share.path) &&
                            (!share.path.starts_with("trial/") || same.contains(share.path));
        for (std::size_t i = 0; i < count; ++i) {
            const double change = share.change[i] - (shared ? found->second->change[i] : 0);
            out[i] += change * change;
        }
        if (shared) first.erase(found);
    }
    for (const auto& [path, share] : first)
        for (std::size_t i = 0; i < count; ++i) out[i] += share->variance(i);
    for (double& s : out) s = std::sqrt(s);
    return out;
}

namespace {
std::vector<Change> changes(const Setup& before, const double* was, const Bands& of_before, const Setup& after,
                            const double* is, const Bands& of_after, std::size_t count) {
    const auto sigma = difference_sigma(before, of_before.shares, after, of_after.shares, count);
    std::vector<Change> out;
    for (std::size_t i = 0; i < count; ++i) out.push_back({is[i] - was[i], sigma[i]});
    return out;
}
} // namespace

std::vector<Change> changes(const Setup& before, const Figures& of_before, const Setup& after,
                            const Figures& of_after) {
    return changes(before, of_before.value.data(), of_before.bands, after, of_after.value.data(), of_after.bands,
                   compared_count);
}

Answered answered(const Vehicle& vehicle, const Setup& setup, const std::function<Question()>& question,
                  const std::function<bool()>& cancelled) {
    return {question().ask({vehicle, setup}), propagate(vehicle, setup, question(), cancelled)};
}

std::vector<Change> changes(const Setup& before, const Answered& of_before, const Setup& after,
                            const Answered& of_after) {
    return changes(before, of_before.value.data(), of_before.bands, after, of_after.value.data(), of_after.bands,
                   of_before.value.size());
}

std::vector<Change> changes(const Vehicle& vehicle, const Setup& before, const Setup& after,
                            const std::function<Question()>& question, const std::function<bool()>& cancelled) {
    return changes(before, answered(vehicle, before, question, cancelled), after,
                   answered(vehicle, after, question, cancelled));
}

Sure how_sure(const Change& c) {
    if (c.by == 0) return Sure::CannotSay;
    if (c.drawn) return how_sure_by(c.as_told);
    const double times = std::abs(c.by);
    return times > band_90 * c.sigma ? Sure::Surely : times > 0.842 * c.sigma ? Sure::Probably : Sure::CannotSay;
}

Sure how_sure_by(double share) { return share > 0.95 ? Sure::Surely : share > 0.8 ? Sure::Probably : Sure::CannotSay; }

} // namespace dervish::sure
