#pragma once
#include "core/job/book.h"
#include "core/job/parts.h"
#include "core/job/test.h"
#include "core/job/vehicle.h"
#include "core/num/bad_input.h"
#include "core/num/shared_list.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

/// The document: one car, what is fitted to it, what is tried, what was tested and why.
namespace dervish::job {

/// Whether a load is carried with a setup.
bool is_aboard(const Load& load, const Setup& setup);

/// A mass hung on an arm on the bench, kg, and the dial's reading at the eye, m.
struct RigReading {
    double mass = 0, dial = 0;
    bool operator==(const RigReading&) const = default;
};

/// The bar on the bench: which arms are loaded, what holds it there, what was read.
struct RigCheck {
    bool both_arms = false; ///< both pulled apart; else one held
    bool blocks = false;    ///< rigid blocks in place of its mounts
    double dial_sigma = 0.02e-3;
    std::vector<RigReading> readings;
    bool operator==(const RigCheck&) const = default;
};

/// Gauge readings, at the same contact point, at which the other side's arm just starts to move; m.
struct LiftRound {
    double left = 0, right = 0; ///< with the left side lifted, with the right side lifted
    bool operator==(const LiftRound&) const = default;
};

/// What was found while the links were set up, in the order in which it is done. Nothing: not done yet.
struct SetupChecks {
    std::optional<double> table_gap;                ///< under one eye with the bar on a flat table, m
    std::optional<double> droop, bump;              ///< travel limits as set, m
    std::optional<double> left_stub, right_stub;    ///< bar's ends outside the mounts, m
    bool falls_free = false, joints_free = false;   ///< by its own weight with links off; joints clean and free
    std::optional<double> mount_height, eye_height; ///< at ride height, wheels loaded, m
    std::optional<double> left_link, right_link;    ///< m
    std::optional<double> lift_zero;                ///< the gauge with both wheels down, m
    double per_wheel = 1;                           ///< rise of the contact point for the wheel's
    double lift_tolerance = 2e-3;                   ///< that two readings may differ by, m
    std::vector<LiftRound> rounds;
    std::optional<double> hang_bend; ///< between link and arm at full droop on stands, rad
    /// The least gap found anywhere about the bar and its links, wheels on, m; 0: it touches.
    std::optional<double> gap_lock, gap_droop, gap_bump;
    bool operator==(const SetupChecks&) const = default;
};

/// A car as it was at a time: nothing corrected later changes it.
struct Snapshot {
    Vehicle vehicle;
    Setup setup;
    bool operator==(const Snapshot&) const = default;
};

/// One of the setups that a test compares, as the car was when it was planned or predicted.
struct TestState {
    std::string name;
    Snapshot car;
    Prediction prediction;
    bool operator==(const TestState&) const = default;
};

struct PlannedTest {
    std::string name, date, question;
    Asks asks = Asks::SumOrCar;
    std::string unknown;           ///< of Asks::Unknown: the input's path, as of Trial
    std::string protocol;          ///< its key
    std::vector<Amount> settings;  ///< of the protocol; unsaid: its usual one
    std::vector<Amount> read_to;   ///< standard uncertainty of one reading, by channel; unsaid: the tool's
    std::vector<TestState> states; ///< never empty
    std::vector<int> order;        ///< of states, a run each, as planned
    bool shuffled = false;         ///< drawn by lot and kept from the driver
    bool blind = true;             ///< nothing that answers it is shown until it is predicted
    std::vector<Guess> guesses;
    std::vector<Run> runs;
    Decision decision;
    int lines_before = -1; ///< how many lines the book had when it was planned; −1: not known
    DERVISH_COMPILED_ONCE(PlannedTest);
    bool operator==(const PlannedTest&) const;
    bool predicted() const; ///< of every state
    bool guess_open() const { return blind && !predicted(); }
};

/// A bar's rate on the bench, and the round of steps by which a bar and its links were set up: what was read, and of
/// which parts by their ids.
struct RigTest {
    std::string bar, mounts;
    RigCheck check;
    bool operator==(const RigTest&) const = default;
};
struct SetupTest {
    std::string bar, links;
    SetupChecks checks;
    bool operator==(const SetupTest&) const = default;
};

/// A line of the book: what was done or seen, when and why.
struct Entry {
    std::string date;
    EntryKind kind = EntryKind::Noted;
    std::string reason;
    double odometer = 0;            ///< m driven; 0: not said
    std::vector<std::string> parts; ///< ids of those it is about
    std::optional<Snapshot> car;    ///< as it was then
    EntryMore more{};
    bool operator==(const Entry&) const = default;
};

/// A size of bar that can be had; wall 0: solid. m.
struct StockSize {
    double outer_diameter = 0, wall = 0;
    bool operator==(const StockSize&) const = default;
};

/// Text that waits to be usable, in the units that stood beside it when it was typed.
struct Draft {
    std::string text;
    units::System units = units::System::Metric;
    bool operator==(const Draft&) const = default;
};

struct Job {
    std::string name, complaint;
    std::vector<std::string> heard; ///< what is felt, of words_of(Complaint)
    Vehicle vehicle;
    Setup fitted, trial;
    Setup standard;          ///< what rates are told as times of; axles without a bar: not known
    std::vector<Setup> kept; ///< other setups worth keeping, by name
    std::vector<Assembly> shelf;
    Spares spares;
    std::vector<StockSize> stock; ///< empty: the usual generic sizes
    SharedList<PlannedTest> tests;
    std::vector<RigTest> rig_tests;
    std::vector<SetupTest> setup_tests;
    SharedList<Entry> book;
    std::vector<Person> people;
    std::vector<Upkeep> upkeep;
    std::vector<PartRecord> part_records;
    std::vector<Torque> torques;
    SheetDone sheet; ///< from Fitted to Trial
    /// Typed but not usable yet, by field path: kept with the job so that nothing typed is lost.
    std::map<std::string, Draft> drafts;
    DERVISH_COMPILED_ONCE(Job);
    bool operator==(const Job&) const;
};

/// What was read of an assembly on the bench, and while it was set up: of these very parts. Nothing read: an empty one.
const RigCheck& rig_of(const Job& job, const Assembly& assembly);
const SetupChecks& checks_of(const Job& job, const Assembly& assembly);
/// The same to write into, begun where there is none.
RigCheck& rig_for(Job& job, const Assembly& assembly);
SetupChecks& checks_for(Job& job, const Assembly& assembly);

/// The test whose guess is still open: what would answer it is hidden. Null: none.
const PlannedTest* open_guess(const Job& job);

/// "fitted", "trial" or a kept setup's name; throws BadInput at "setup".
const Setup& setup_named(const Job& job, const std::string& name);

/// An empty job that computes: a plain car and bars of assumed sizes, everything marked assumed.
Job blank();

/// What is asked of a car before anything is measured.
enum class CarKind { Small, Family, TwoSeater, Van, OffRoad, SingleSeater, FourWheeler, Truck, Model };
inline constexpr CarKind all_car_kinds[] = {CarKind::Small,       CarKind::Family,  CarKind::TwoSeater,
                                            CarKind::Van,         CarKind::OffRoad, CarKind::SingleSeater,
                                            CarKind::FourWheeler, CarKind::Truck,   CarKind::Model};
const char* name_of(CarKind kind); ///< "small car"
/// The suspension that a kind mostly has, and what drives it.
PerAxle<AxleKind> usual_suspension(CarKind kind);
Driven usual_drive(CarKind kind);
struct NewCar {
    std::string name = "New job";
    CarKind kind = CarKind::Family;
    Driven driven = Driven::Front;
    PerAxle<AxleKind> suspension{AxleKind::Independent, AxleKind::Independent};
    PerAxle<bool> bar{true, true};
};
/// A job to begin from: every figure a guess of its kind of car (docs/model.md, "A new car"), marked assumed. Fitted
/// and Trial are the same.
Job new_car(const NewCar& asked);

/// Trial is what Fitted is, whatever they are called.
bool nothing_tried(const Job& job);

} // namespace dervish::job
