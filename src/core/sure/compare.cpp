#include "core/sure/compare.h"
#include "core/job/fields.h"
#include "core/job/parts.h"
#include "core/model/tyres.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace dervish::sure {
Bands together(const Bands& tally, const Bands& limit, const Bands& heads) {
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
    Bands out;
    out.sigma.assign(compared_count, 0);
    for (auto& [path, share] : shares) {
        for (std::size_t i = 0; i < compared_count; ++i) out.sigma[i] += share.variance(i);
        out.shares.push_back(std::move(share));
    }
    for (double& s : out.sigma) s = std::sqrt(s);
    return out;
}

Figures figures_of(const Vehicle& vehicle, const Setup& setup, const std::function<bool()>& cancelled) {
    Figures out;
    const Assessment a = assess(vehicle, setup);
    std::copy(a.outcomes.begin(), a.outcomes.end(), out.value.begin());
    if (!a.ascent.lifted) // a bound: what is more than that is not known, and so no difference to it
        for (const Outcome bound : {LiftHeight, FrontTravel, RearTravel})
            out.value[bound] = std::numeric_limits<double>::quiet_NaN();
    const balance::Model model = to_model(vehicle, setup, a.car);
    out.value[ComparedLimit] = balance::outright_limit(model).lateral;
    out.value[ComparedHeads] = study::ride_in_use(vehicle, model).head;
    out.bands = together(bands(vehicle, setup, cancelled), limit_bands(vehicle, setup, Ground::Dry, cancelled),
                         propagate(vehicle, setup, heads(), cancelled));
    return out;
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
        const bool shared = found != first.end() && (!share.path.starts_with("trial/") || same.contains(share.path));
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

std::array<double, compared_count> difference_sigma(const Setup& before, const Bands& of_before, const Setup& after,
                                                    const Bands& of_after) {
    const auto sigma = difference_sigma(before, of_before.shares, after, of_after.shares, compared_count);
    std::array<double, compared_count> out;
    std::copy(sigma.begin(), sigma.end(), out.begin());
    return out;
}

Answered answered(const Vehicle& vehicle, const Setup& setup, const std::function<Question()>& question,
                  const std::function<bool()>& cancelled) {
    return {question().ask({vehicle, setup}), propagate(vehicle, setup, question(), cancelled)};
}

std::vector<Change> changes(const Setup& before, const Answered& of_before, const Setup& after,
                            const Answered& of_after) {
    const std::size_t count = of_before.value.size();
    const auto sigma = difference_sigma(before, of_before.bands.shares, after, of_after.bands.shares, count);
    std::vector<Change> out;
    for (std::size_t i = 0; i < count; ++i) out.push_back({of_after.value[i] - of_before.value[i], sigma[i]});
    return out;
}

std::vector<Change> changes(const Vehicle& vehicle, const Setup& before, const Setup& after,
                            const std::function<Question()>& question, const std::function<bool()>& cancelled) {
    return changes(before, answered(vehicle, before, question, cancelled), after,
                   answered(vehicle, after, question, cancelled));
}

Sure how_sure(double difference, double sigma) {
    const double times = std::abs(difference);
    return times > 1.645 * sigma ? Sure::Surely : times > 0.842 * sigma ? Sure::Probably : Sure::CannotSay;
}

Sure how_sure_by(double share) { return share > 0.95 ? Sure::Surely : share > 0.8 ? Sure::Probably : Sure::CannotSay; }

} // namespace dervish::sure
