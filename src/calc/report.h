#pragma once
#include "core/book/link_build.h"
#include "core/book/story.h"
#include "core/say/job_sheet.h"
#include "core/study/cures.h"
#include "core/study/flex.h"
#include "core/sure/draws.h"
#include "store/json_job.h"

namespace dervish::calc {

/// The figures of a job as JSON; keys carry units. `setup` as in job::setup_named.
store::Json tally(const job::Job& job, const std::string& setup);
store::Json bar(const job::Job& job, const std::string& setup, const std::string& axle);
store::Json bands(const job::Job& job, const std::string& setup, int draws, unsigned seed);
store::Json links(const job::Job& job, const std::string& setup, const std::string& axle);
/// `draws`: cars driven over their limit for how it lets go.
store::Json balance(const job::Job& job, const std::string& setup, Ground ground, int draws);
/// Each way to `wanted`, in the metric unit that the aim is told in; `keep`, if given, takes the setup of one way, by
/// its place in "ways" counted from 1. Throws BadInput where that is none.
struct Keep {
    int way;
    job::Setup* to;
};
store::Json cures(const job::Job& job, const std::string& setup, Ground ground, study::Aim aim, double wanted,
                  const std::optional<Keep>& keep = {});
/// Nothing for `speed`: the usual on that ground, m/s.
store::Json ride(const job::Job& job, const std::string& setup, Ground ground, std::optional<double> speed);
/// What `setup` has otherwise than `from`, what each difference does alone and all together, and how sure that is.
store::Json differs(const job::Job& job, const std::string& from, const std::string& setup, int draws);
/// The setup alone, or (`all`) every state of its bars and `other`'s Fitted beside it, ranked by `track`.
store::Json flex(const job::Job& job, const std::string& setup, const flex::Protocol& protocol, bool all,
                 const job::Job* other, double track);

/// Every test of a job, or the one at a place from 1: predictions, what was read, verdicts, differences, guesses, what
/// would explain a wrong one. Throws BadInput at "test".
store::Json prove(const job::Job& job, int test);

/// What every kind of test, or one, would tell of two setups in an order of runs like "ABABA". Throws BadInput at
/// "order", "setup" or "protocol".
struct Planned {
    std::string question, first, second, order, protocol;
    std::string asks;    ///< which, sum, changed or unknown
    std::string unknown; ///< path of an input, as of Trial
};
store::Json plan(const job::Job& job, const Planned& planned);

/// The book of a job up to `today`: setups that stood, gaps, the lines that are wanted, what is due, all parts.
store::Json story(const job::Job& job, const std::string& today, const book::Wanted& wanted);

store::Json job_sheet(const say::JobSheet& sheet);
/// What a link is made of, mm.
store::Json link_build(const book::LinkBuild& link);

/// On a terminal: how much of what takes long is done, on one line of standard error that is wiped in the end. Nothing
/// is written before the end, so that it may be broken off.
void tell_progress(std::size_t done, std::size_t of);
/// The same for draws (sure::draw) that go on.
inline std::function<bool(int)> tell_draws(int of) {
    return [of](int done) {
        tell_progress(static_cast<std::size_t>(done), static_cast<std::size_t>(of));
        return true;
    };
}

/// A figure in units of `unit`, or the words "none: " and why.
inline store::Json or_why(const std::optional<double>& si, double unit, const char* why) {
    return si ? store::Json(units::rounded(*si / unit)) : store::Json(std::string("none: ") + why);
}
/// A share of the cars drawn over their limit (sure::goes_over); words where it is not a number.
store::Json share_drawn(double share);
/// Why a figure of this setup is none.
std::string why_none(const job::Job& job, const std::string& setup);

} // namespace dervish::calc
