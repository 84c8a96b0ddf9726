#pragma once
#include "core/job/measured.h"
#include "core/job/book.h"
#include "core/job/test.h"
#include "core/num/bad_input.h"
#include "core/num/shared_list.h"
#include "core/terms/terms.h"
#include <limits>

#include <map>
#include <optional>
#include <string>
#include <vector>

/// The document: one car, what is fitted to it, what is tried, what was tested and why.
namespace dervish::job {

/// A place at ride height, from the bar's axis at the car's middle.
struct Spot {
    Measured behind, out, below;
    bool operator==(const Spot&) const = default;
};

/// Where the pick-up has gone at a wheel travel, measured against ride height.
struct PathPoint {
    Measured travel, up, out, back;
    bool operator==(const PathPoint&) const = default;
};

/// What a link or the bar must stay clear of, on both sides alike: a part of some roundness, a tube that runs across
/// the car, or a wheel with its tyre by its inner face.
enum class ObstacleKind { Part, Tube, Wheel };
enum class Carrier { Body, Wheel };
struct ObstacleData {
    std::string name;
    ObstacleKind kind = ObstacleKind::Part;
    Carrier moves = Carrier::Wheel;
    Spot at;
    Measured radius;
    Measured keep; ///< clearance wanted
    bool operator==(const ObstacleData&) const = default;
};

enum class PathKind { Straight, Arm, Points }; ///< how the pick-up of independent suspension moves

/// How an axle moves its links' pick-ups, and what is near them.
struct LinkageData {
    PathKind path = PathKind::Straight;
    Spot arm_front, arm_rear, ball_joint; ///< the control arm's inner axis and what it lifts the wheel by
    std::vector<PathPoint> points;        ///< by rising travel
    bool steers = false;                  ///< the pick-up turns with the wheel
    Measured lock, kingpin_behind, kingpin_out;
    std::vector<ObstacleData> obstacles;
    bool operator==(const LinkageData&) const = default;
};

/// What a part is called and where it is from, whichever setup it stands in. Parts of equal id are one part: the same
/// everywhere (edit/parts.h keeps them so).
struct Part {
    std::string id, name, origin, notes;
    double price = 0; ///< in the owner's money; 0: not said
    double mass = 0;  ///< as weighed, kg; 0: not said
    bool operator==(const Part&) const = default;
};

/// A spring's force beyond its static one at a travel, bump positive.
struct SpringPoint {
    Measured travel, force;
    bool operator==(const SpringPoint&) const = default;
};

/// An axle's springs; rates at the wheel (independent) or of one spring (solid).
struct SpringData : Part {
    Measured rate;
    bool captive = false;            ///< cannot come loose of their seats
    std::vector<SpringPoint> points; ///< by rising travel, in place of the rate: air, rubber
    bool operator==(const SpringData&) const = default;
};

/// An axle's dampers. Their end of travel is the droop stop. 0 for damping: the usual quarter of critical.
struct DamperData : Part {
    Measured droop_gap, droop_k;
    Measured bump_damping, rebound_damping;
    Measured bump_clicks, rebound_clicks; ///< that there are, from fully open; 0: not adjustable
    Measured click;                       ///< what one adds to the damping, as a share of it; 0: not known
    Measured bump_set, rebound_set;       ///< clicks at which the damping was measured, from fully open
    bool operator==(const DamperData&) const = default;
};

/// An axle's tyres, on their wheels. 0 for `nominal_load`: one kind of tyre on the whole car, at the mean of its wheels
/// as weighed; for sizes: not known.
struct TyreData : Part {
    Measured rate;
    Measured nominal_load, grip{1, 0.15}, grip_fall{0.12, 0.04}, stiffness{16, 4}, stiffness_load{1.8, 0.3};
    Measured camber_thrust{0.12, 0.05}, camber_loss{10, 5},
        best_camber{units::as_filed(-1.5 * units::deg, units::Quantity::Angle), units::deg};
    Measured relaxation{0.5, 0.15}, best_pressure{1, 0.1}, pressure_loss{0.5, 0.25};
    Measured diameter, rim_width, rim_offset;
    bool operator==(const TyreData&) const = default;
};

/// What holds the frame against twist, beside the frame itself.
struct BraceData : Part {
    Measured torsion; ///< added, N·m/rad
    bool operator==(const BraceData&) const = default;
};

/// What raises or lowers the car: longer or shorter springs leave the stops where they are, spacers take them along,
/// other tyres lift axle and body alike.
enum class LiftBy { Springs, Spacers, Tyres };

/// How an axle's wheels and dampers stand, which a tuner sets without changing a part.
struct StandData {
    LiftBy lift_by = LiftBy::Springs;
    Measured lift; ///< of the body over the ground at this axle from where the car was measured, up positive, m
    Measured pressure{1, 0};
    Measured left_grip{1, 0.03}, left_pressure{1, 0.02}; ///< the left tyre's over the right one's
    Measured camber, toe;
    Measured bump_click, rebound_click; ///< of the dampers' clicks, from fully open
    Differential differential = Differential::Open;
    bool operator==(const StandData&) const = default;
};

/// What an axle's wheels do with lean, side force and the height of the body.
struct WheelData {
    Measured camber_kept{0.3, 0.15}, roll_steer, side_steer, trail_steer;
    Measured roll_centre_moves; ///< roll centre's rise per rise of the body
    Measured camber_moves;      ///< camber per 100 mm that the body rises
    bool operator==(const WheelData&) const = default;
};

/// The suspension as it is beyond its rates: side to side, what holds it short, what it holds on to.
struct TravelData {
    Measured left_bump, left_droop; ///< the left side's travels beyond the right's, m
    Measured strap, hose, body;     ///< wheel travel at which each is reached; 0: none, unknown, clear
    bool operator==(const TravelData&) const = default;
};

/// An axle as measured, whatever is fitted to it; gaps at the wheel (independent) or per spring (solid).
struct AxleData {
    AxleKind kind = AxleKind::Independent;
    Measured track, unsprung_mass, unsprung_height, spring_base, motion_ratio;
    Measured bump_gap, bump_k1, bump_k3, roll_centre_height, parasitic_roll_stiffness;
    Measured inertia; ///< of a solid axle in roll, about its own centre; 0: the usual
    TravelData travel;
    LinkageData linkage;
    WheelData wheels;
    bool operator==(const AxleData&) const = default;
};

/// Something that is carried, or left behind: which is said by a setup.
struct Load {
    std::string id, name;
    Measured mass, behind_front_axle, left, height;
    bool operator==(const Load&) const = default;
};

enum class Driven { Front, Rear, All };
enum class Turns { Clockwise, Anticlockwise }; ///< the propshaft, seen from behind

/// How the whole car turns and is driven. Inertias of 0: the usual for its masses and sizes.
struct HandlingData {
    Measured yaw_inertia, roll_inertia, front_braking;   ///< 0: the usual, the ideal split
    Measured pitch_inertia;                              ///< of the body; 0: the usual
    Measured braking{0.2, 0.1}, pull{0.12, 0.05};        ///< into and out of a bend, g
    Measured launch{0.4, 0.05}, axle_ratio{4, 0.3};      ///< g along; propshaft turns per wheel turn
    Measured person, person_out, side_area, wind{25, 5}; ///< kg, m, m², m/s; 0: the usual of a car this size
    Driven driven = Driven::Rear;
    Turns propshaft = Turns::Anticlockwise;
    bool operator==(const HandlingData&) const = default;
};

/// A ground that the car is driven on: what it makes of the tyres' figures, how rough it is, how fast one drives there.
struct GroundData {
    Measured grip, stiffness, fall; ///< factors on grip, cornering stiffness, and the fall of grip with load
    Measured roughness;             ///< 10⁻⁶ m³ at 0.1 per metre (ISO 8608); 0: a plane
    Measured speed;                 ///< m/s
    Measured ripple, ripple_length; ///< of about one length on top: standard deviation of their height, m; m
    Measured ripple_alike;          ///< correlation of left and right
    bool operator==(const GroundData&) const = default;
};
/// Where a ground's figures stand: "vehicle/grounds/dry_patched/".
std::string path_of(Ground ground);
/// What is usual of each, assumed: our own round figures with their spreads.
PerGround<GroundData> usual_grounds();

/// What the car is for: which lean, balance and ride are right depends on it.
enum class Use { Road, Loaded, Towing, Sport, RaceSmooth, RaceRough, Sprint, Trail, Rocks, Launch, Model };
inline constexpr double by_use = -1; ///< what a use wants, left to what is usual of it (study/use.h)
struct UseData {
    Use use = Use::Road;
    Measured lean_least{by_use}, lean_most{by_use};       ///< rad per m/s²
    Measured balance_least{by_use}, balance_most{by_use}; ///< rear nearer to giving up above 0, share
    Measured head_most{by_use};                           ///< tossed sideways there, m/s²
    Measured reserve_least{by_use};                       ///< from the limit to tipping over, g
    bool operator==(const UseData&) const = default;
};

/// The car as weighed on its four wheels, without the loads listed.
struct Vehicle : PerAxle<AxleData> {
    std::string name;
    Measured wheelbase, front_left_load, front_right_load, rear_left_load, rear_right_load, cg_height, chassis_torsion;
    HandlingData handling;
    std::vector<Load> loads;
    PerGround<GroundData> grounds = usual_grounds();
    UseData use;
    bool operator==(const Vehicle&) const = default;
};

struct Eye {
    Measured arm_length; ///< square to the bar's axis
    bool operator==(const Eye&) const = default;
};

/// A step of a walk along the bar, and a point of one measured in space: bar::Step and bar::Spot as measured. A size of
/// 0 for `outer_diameter` is the bar's own, for `taper_to` none.
struct StepData {
    Measured length, bend, plane, radius, outer_diameter, wall, taper_to;
    Mark mark = Mark::Bend;
    bool operator==(const StepData&) const = default;
};
struct PointData {
    Measured x, y, z, radius, outer_diameter, wall;
    Mark mark = Mark::Bend;
    bool operator==(const PointData&) const = default;
};

enum class Form { Sizes, Walk, Points };    ///< how the bar was measured
enum class Arms { OfTheBar, Round, Blade }; ///< what its arms are

struct BarData : Part {
    Form form = Form::Sizes;
    Measured outer_diameter, wall, centre_length, arm_end, splay, drop, bend_radius;
    Measured kink_outer, kink_inner, kink_forward, kink_up;
    std::vector<Eye> eyes; ///< outermost first, the same on both arms
    Arms arms = Arms::OfTheBar;
    Measured arm_diameter, arm_wall, blade_width, blade_thickness, blade_rotation;
    std::vector<StepData> walk;    ///< from the middle to the left end
    std::vector<PointData> points; ///< left to right
    Measured youngs_modulus, shear_modulus, density, yield_strength;
    Measured bent; ///< right eye above the left one with the bar flat on a table, m
    bool operator==(const BarData&) const = default;
};

enum class BushKind { Unsaid, Rubber, Urethane, Metal };
enum class JointKind { Unsaid, Ball, Rubber, Urethane, RodEnd };

enum class CarriedBy { Body, Axle }; ///< what the bar is mounted on

struct MountData : Part {
    BushKind kind = BushKind::Unsaid;
    CarriedBy on = CarriedBy::Body;
    Measured height; ///< of the bar's axis above the ground at ride height, m; 0: unknown
    Measured spacing, vertical, fore_aft, axial, torsional, bracket;
    Measured rate_left{1, 0};            ///< what wear has left of the bushes' rates along and across the bar, 1: sound
    Measured bore_friction, out_of_line; ///< coefficient of the bore; right mount above the left one's line, m
    Measured capacity;                   ///< what a bracket may bear, N; 0: unknown
    bool operator==(const MountData&) const = default;
};

enum class LinkEnd { Below, Above }; ///< where the link's other end is, seen from the eye

enum class Pickups { UnderEyes, Measured }; ///< follow from the bar as it lies, or have places of their own
enum class Adjust { No, OneEnd, Opposite }; ///< by a thread at one end, or a buckle with opposite threads

struct LinkData : Part {
    Pickups pickups = Pickups::UnderEyes;
    LinkEnd end = LinkEnd::Below;
    Measured forward, outward; ///< of pick-ups that follow from the bar
    Spot at;                   ///< of pick-ups measured
    JointKind joints = JointKind::Unsaid;
    Measured length, right_longer, body, joint, play, capacity;
    Adjust adjust = Adjust::No;
    Measured pitch, thread, engaged, shortest; ///< of a thread; each end's length in use; screwed right in
    Stud eye_stud = Stud::Sideways, pickup_stud = Stud::Sideways;
    Measured tilt{units::pi, 0}; ///< that the joints allow, rad; a half turn: not known
    Measured thickness;          ///< of the link's body, m
    bool operator==(const LinkData&) const = default;
};

enum class Held { Links, Clamped }; ///< by mounts and links, or clamped at its ends to trailing arms

/// The arms that a clamped bar joins, from their pivots.
struct TrailingArms {
    Measured to_bar, to_wheel;
    bool operator==(const TrailingArms&) const = default;
};

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

/// What the links are planned for.
struct PlanData {
    Measured off_square{55 * units::deg, 0}; ///< at most, at full droop, rad
    Measured preload;                        ///< load that the bar is to add to the left wheel at rest, N
    bool operator==(const PlanData&) const = default;
};

/// A bar with what holds it and what it pulls on: what is bought, fitted, or lies on the shelf.
struct Assembly {
    bool fitted = false;
    bool connected = true;
    Held held = Held::Links;
    BarData bar;
    MountData mounts;
    LinkData links;
    TrailingArms trailing_arms;
    PlanData plan;
    int left_eye = 0, right_eye = 0;
    bool operator==(const Assembly&) const = default;
};

/// What is on an axle, and how it stands.
struct AxleSetup : Assembly {
    SpringData springs;
    DamperData dampers;
    TyreData tyres;
    StandData stand;
    bool operator==(const AxleSetup&) const = default;
};

/// All that a tuner changes from one run to the next.
struct Setup : PerAxle<AxleSetup> {
    std::string name;
    BraceData brace;
    Measured bias_ratio{2, 0.5};     ///< of a limited slip differential
    std::vector<std::string> aboard; ///< ids of the vehicle's loads
    bool stability_aid = false;      ///< left on
    bool operator==(const Setup&) const = default;
};

/// Whether a load is carried with a setup.
bool is_aboard(const Load& load, const Setup& setup);

/// A person's mass as the vehicle has it; unsaid 80 kg, or a tenth of a small car, kg.
double person_of(const Vehicle& vehicle);

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
    std::string unknown;              ///< of Asks::Unknown: the input's path, as of Trial
    std::string protocol;             ///< its key
    std::vector<Amount> settings;     ///< of the protocol; unsaid: its usual one
    std::vector<Amount> read_to;      ///< standard uncertainty of one reading, by channel; unsaid: the tool's
    std::vector<TestState> states;    ///< never empty
    std::vector<int> order;           ///< of states, a run each, as planned
    bool shuffled = false;            ///< drawn by lot and kept from the driver
    bool blind = true;                ///< nothing that answers it is shown until it is predicted
    std::vector<Guess> guesses;
    std::vector<Run> runs;
    Decision decision;
    bool operator==(const PlannedTest&) const = default;
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

/// Parts that are at hand and stand in no setup, other than bars kept with what holds them (the shelf).
struct Spares {
    std::vector<BarData> bars;
    std::vector<MountData> mounts;
    std::vector<LinkData> links;
    std::vector<SpringData> springs;
    std::vector<DamperData> dampers;
    std::vector<TyreData> tyres;
    std::vector<BraceData> braces;
    bool operator==(const Spares&) const = default;
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
    bool operator==(const Job&) const = default;
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
enum class CarKind { Small, Family, TwoSeater, Van, OffRoad, SingleSeater };
inline constexpr CarKind all_car_kinds[] = {CarKind::Small, CarKind::Family,  CarKind::TwoSeater,
                                            CarKind::Van,   CarKind::OffRoad, CarKind::SingleSeater};
const char* name_of(CarKind kind); ///< "small car"
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
