#pragma once
#include "core/proof/verdict.h"

/// What a wrong verdict may come from, and readings that look like a slip of the pen.
namespace dervish::proof {

/// One input that would explain a state's first reading alone, and how many of its own sigmas that takes.
struct Culprit {
    std::string path, label;
    double sigmas;
};
/// Within four sigmas, the least first, at most `most`; none while it agrees or nothing was read.
std::vector<Culprit> culprits(const PlannedTest& test, int state, std::size_t channel, std::size_t most = 5);

/// Something wrong with the car or the test that would read about so.
struct Fault {
    enum class What {
        LinkOff,      ///< or broken, or its bar idle, at an end
        BushGone,     ///< a bar's mounts at an eighth of their rate
        DroopShort,   ///< dampers at two thirds of the droop they are said to have
        BumpShort,    ///< bump stops reached at half the travel
        UnlikeTyres,  ///< one side a fifth down
        OtherSetup,   ///< that was fitted in fact; not one whose own runs of the test read otherwise
        SidesSwapped, ///< left read as right
        OverCentre,   ///< a link in line with its arm within the travel
    } what;
    std::optional<End> end;
    std::string setup; ///< of OtherSetup
    double reads;      ///< on the first channel; NaN of OverCentre, which has no figure
    double off;        ///< root mean square of z over what was read; of OverCentre 0
};
/// Those with which everything that was read of the state agrees (off ≤ 1.645), nearest first. `setups`: others that
/// may have been on the car. Solves the car once for each.
std::vector<Fault> faults(const PlannedTest& test, int state, const std::vector<Setup>& setups);

/// What is not equal between the runs of two states, so that a difference may come from it as well.
enum class Unlike { Driver, Ground, Aids, Aboard, Pressures, Temperature, Fuel, NoReturn };
/// Driver, ground, aids and load: no value stands in runs of both states. Pressures, temperature and fuel: the means
/// differ by more than 2 %, 5 °C or a tenth. NoReturn: neither state was run before and after the other. Of runs that
/// count and say it.
std::vector<Unlike> unlike(const PlannedTest& test, int first, int second);

/// A reading far from the others of its state, or from the prediction where there are none.
struct Slip {
    enum class Kind { Unit, Digit, Swapped, Sign, Side, Far } kind;
    double meant; ///< what it would be then, SI; of Far what was expected
};
/// Asked about, never changed. `system`: the units it was typed in.
std::optional<Slip> slip(const PlannedTest& test, std::size_t run, std::size_t channel, units::System system);

} // namespace dervish::proof
