#include "app/bar/bar_drawing.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "core/job/choices.h"
#include "core/job/model.h"

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace dervish::app {
using Eigen::Vector3d;

/// A bar laid out for drawing: its centreline moved, and where its parts are.
struct BarDrawing::Shape {
    struct Point {
        Vector3d place;
        double stress; ///< Pa
        double along;  ///< m from the left end
    };
    std::vector<Point> line;
    double diameter;
    std::vector<Vector3d> mounts, left_eyes, right_eyes, link_ends;
    std::array<int, 2> eye;
    bool clamped;
    Vector3d worst;
    double worst_stress; ///< Pa
    Eigen::Vector2d link_force;
};

BarDrawing::~BarDrawing() = default;

BarDrawing::BarDrawing(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), roll_(3 * units::deg) {
    setObjectName("ground");
    setMinimumHeight(300);
    setMouseTracking(true);
    setAccessibleName(tr("The bar, drawn to scale"));
    connect(&document_, &Document::changed, this, qOverload<>(&QWidget::update));
    connect(&document_, &Document::bands_changed, this, qOverload<>(&QWidget::update));
}

void BarDrawing::show_axle(bool front) {
    front_ = front;
    update();
}

void BarDrawing::set_roll(double radians) {
    roll_ = std::clamp(radians, -8 * units::deg, 8 * units::deg);
    update();
}

std::vector<QPointF> BarDrawing::eye_places(bool left) const {
    std::vector<QPointF> out;
    for (const Spot& spot : spots_)
        if (spot.what == (left ? "left eye" : "right eye")) out.push_back(spot.place);
    return out;
}

const job::Assembly& BarDrawing::assembly() const {
    const job::Setup& s = document_.computed_setup(document_.look());
    return front_ ? s.front : s.rear;
}

const std::optional<job::BarFigures>& BarDrawing::figures(bool fitted) const {
    const job::Assessment& a = fitted ? document_.fitted() : document_.looked();
    return front_ ? a.front : a.rear;
}

BarDrawing::Shape BarDrawing::lay_out(const job::Assembly& assembly, const job::BarFigures& of, double longest) const {
    const job::AxleData& axle = front_ ? document_.job().vehicle.front : document_.job().vehicle.rear;
    const bar::Solution fine = bar::solve(of.solution.bar, longest);
    const Eigen::Vector2d travel =
        assembly.connected ? job::link_travel(axle, assembly.held, roll_) : Eigen::Vector2d(0, 0);
    Shape out;
    out.clamped = assembly.held == job::Held::Clamped;
    const bar::Pull pull = job::to_pull(assembly, fine.bar);
    // As far as small travel carries it, and from there by the true equilibrium where that is reached.
    bar::Moved at = bar::moved(fine, travel);
    std::vector<Vector3d> nodes;
    for (const bar::Vector6& motion : bar::shape(fine, at)) nodes.push_back(fine.node(nodes.size()) + motion.head<3>());
    out.link_force = at.force;
    if (assembly.connected) {
        const bar::Mesh mesh = bar::mesh(fine);
        if (const bar::Posture posture = bar::reach(mesh, pull, travel); posture.converged) {
            bar::spread(mesh, posture, nodes, at.end);
            out.link_force = {posture.link_force[0], posture.link_force[1]};
        }
    }
    const auto stress = bar::stress(fine, at.end);
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        const bar::StressPoint& there = stress[std::min(3 * i, stress.size() - 1)];
        out.line.push_back({nodes[i], there.von_mises, there.along});
    }
    const bar::StressPoint& worst = bar::worst(stress);
    const auto nearest = std::min_element(out.line.begin(), out.line.end(), [&](const auto& a, const auto& b) {
        return std::abs(a.along - worst.along) < std::abs(b.along - worst.along);
    });
    out.worst = nearest->place;
    out.worst_stress = worst.von_mises;
    out.diameter = assembly.bar.outer_diameter.value;
    const auto of_point = [&](std::size_t point) { return nodes[fine.node_of_point[point]]; };
    for (const bar::Mount& m : fine.bar.mounts) out.mounts.push_back(of_point(m.point));
    for (std::size_t point : of.laid.left_eye) out.left_eyes.push_back(of_point(point));
    for (std::size_t point : of.laid.right_eye) out.right_eyes.push_back(of_point(point));
    out.eye = out.clamped ? std::array<int, 2>{0, 0} : std::array<int, 2>{assembly.left_eye, assembly.right_eye};
    for (std::size_t side = 0; side < 2; ++side) {
        // Clamped ends are drawn with their arm up to the pivot.
        out.link_ends.push_back(out.clamped ? pull.arms[side]->pivot
                                            : Vector3d(pull.rods[side]->pickup + travel[static_cast<int>(side)] *
                                                                                     pull.rods[side]->pickup_travel));
    }
    return out;
}

const BarDrawing::Shape& BarDrawing::ghost(const job::Assembly& fitted, const job::BarFigures& of) {
    const job::AxleData& axle = front_ ? document_.job().vehicle.front : document_.job().vehicle.rear;
    if (!ghost_ || !(ghost_of_ == fitted) || ghost_roll_ != roll_ || !(ghost_on_ == axle)) {
        ghost_ = std::make_unique<Shape>(lay_out(fitted, of, 0.06));
        ghost_of_ = fitted;
        ghost_roll_ = roll_;
        ghost_on_ = axle;
    }
    return *ghost_;
}

QPointF BarDrawing::on_paper(const Vector3d& place) const {
    // Seen from behind and above, turned by the yaw: left of the car is to the left.
    const Vector3d d = place - focus_;
    const double c = std::cos(yaw_), s = std::sin(yaw_);
    const double across = -d.y() * c + d.x() * s, away = d.x() * c + d.y() * s;
    return middle_ + scale_ * QPointF(across, -(d.z() * std::cos(tilt_) + away * std::sin(tilt_)));
}

void BarDrawing::fit_scale(const Shape& shape, const Shape* ghost) {
    scale_ = 1;
    middle_ = {};
    focus_ = Vector3d::Zero();
    QRectF box;
    const auto take = [&](const Vector3d& v) { box |= QRectF(on_paper(v), QSizeF(1e-6, 1e-6)); };
    for (const auto& point : shape.line) take(point.place);
    if (ghost)
        for (const auto& point : ghost->line) take(point.place);
    for (const Vector3d& end : shape.link_ends) take(end);
    const QRectF room = QRectF(rect()).adjusted(60, 112, -60, -44);
    scale_ = std::min(room.width() / box.width(), room.height() / box.height());
    middle_ = room.center() - scale_ * box.center();
}

void BarDrawing::paint_ghost(QPainter& p, const Shape& shape) {
    QPolygonF line;
    for (const auto& point : shape.line) line << on_paper(point.place);
    // Both edges, so that another diameter shows too.
    const double half = std::max(4.0, shape.diameter * scale_) / 2;
    p.setPen(QPen(QColor("#9AA5B1"), 1, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    for (const double side : {-half, half}) {
        QPolygonF edge;
        for (int i = 0; i < line.size(); ++i) {
            const QLineF along(line[std::max(0, i - 1)], line[std::min<int>(static_cast<int>(line.size()) - 1, i + 1)]);
            edge << line[i] + QPointF(-along.dy(), along.dx()) * (side / std::max(1e-9, along.length()));
        }
        p.drawPolyline(edge);
    }
}

void BarDrawing::paint_bar(QPainter& p, const Shape& shape) {
    const QColor base = axle_colour(front_), hot = theme().caution;
    const double width = std::max(4.0, shape.diameter * scale_);
    // Darker edge first, then the body with the stress as tint: only above half the yield strength.
    QPolygonF line;
    for (const auto& point : shape.line) line << on_paper(point.place);
    p.setPen(QPen(base.darker(135), width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPolyline(line);
    const auto heat_at = [&](int i) { // in steps, so that a stretch of one tint is one stroke
        const double stress = shape.line[static_cast<std::size_t>(i)].stress / assembly().bar.yield_strength.value;
        return std::round(16 * std::clamp((stress - 0.3) / 0.6, 0.0, 1.0)) / 16;
    };
    for (int i = 0, next; i + 1 < line.size(); i = next) {
        const double heat = heat_at(i);
        for (next = i + 1; next + 1 < line.size() && heat_at(next) == heat; ++next) {
        }
        const QColor tint = QColor::fromRgbF(float(base.redF() + heat * (hot.redF() - base.redF())),
                                             float(base.greenF() + heat * (hot.greenF() - base.greenF())),
                                             float(base.blueF() + heat * (hot.blueF() - base.blueF())));
        p.setPen(QPen(tint.lighter(112), std::max(1.5, width * (0.55 + 0.3 * heat)), Qt::SolidLine, Qt::RoundCap,
                      Qt::RoundJoin));
        p.drawPolyline(line.mid(i, next - i + 1));
    }
    for (std::size_t i = 0; i < shape.mounts.size(); ++i) {
        const QPointF at = on_paper(shape.mounts[i]);
        p.setPen(QPen(theme().ink, 1.6));
        p.setBrush(theme().panel);
        p.drawRoundedRect(QRectF(at - QPointF(12, 13), QSizeF(24, 26)), 4, 4);
        p.setBrush(axle_colour(front_));
        p.drawEllipse(at, std::max(4.0, width / 2.6), std::max(4.0, width / 2.6));
        spots_.push_back({at, "mounts", static_cast<int>(i)});
    }
    for (int side = 0; side < 2; ++side) {
        const auto& eyes = side == 0 ? shape.left_eyes : shape.right_eyes;
        const auto used = static_cast<std::size_t>(shape.eye[static_cast<std::size_t>(side)]);
        const QPointF from = on_paper(eyes[used]), to = on_paper(shape.link_ends[static_cast<std::size_t>(side)]);
        p.setPen(QPen(theme().ink, 3.2, assembly().connected ? Qt::SolidLine : Qt::DotLine, Qt::RoundCap));
        p.drawLine(from, to);
        p.setBrush(theme().panel);
        p.setPen(QPen(theme().ink, 1.6));
        p.drawEllipse(to, 4.5, 4.5);
        for (std::size_t e = 0; e < eyes.size(); ++e) {
            const QPointF at = on_paper(eyes[e]);
            p.setBrush(e == used ? theme().ink : theme().panel);
            p.drawEllipse(at, 5, 5);
            spots_.push_back({at, side == 0 ? "left eye" : "right eye", static_cast<int>(e)});
        }
        spots_.push_back({(from + to) / 2, "links", side});
    }
}

/// The weakest place, told first: it is what a person must not miss.
void BarDrawing::label_weakest(QPainter& p, paint::Labels& labels, const Shape& shape, const job::BarFigures& figures) {
    const auto system = document_.units();
    const job::Assembly& a = assembly();
    const QPointF weak = on_paper(shape.worst);
    const double reserve = shape.worst_stress > 0 ? a.bar.yield_strength.value / shape.worst_stress : 99;
    const job::AxleData& axle = front_ ? document_.job().vehicle.front : document_.job().vehicle.rear;
    const job::Reserve first = job::reserves(a, figures, job::link_travel(axle, a.held, roll_)).front();
    const QString bar_words = reserve < 1 ? tr("yields here")
                                          : tr("%1 here, reserve %2")
                                                .arg(first.part == "bar" ? tr("weakest") : tr("steel's worst"),
                                                     QString::fromStdString(units::fixed(std::min(reserve, 99.0), 1)));
    const QString rest =
        first.part == "bar"
            ? tr("%1 of %2 yield")
                  .arg(QString::fromStdString(units::text(shape.worst_stress, units::Quantity::Stress, system, 0)),
                       QString::fromStdString(
                           units::text(a.bar.yield_strength.value, units::Quantity::Stress, system, 0)))
            : tr("the %1 is weaker: reserve %2")
                  .arg(QString::fromStdString(first.part),
                       QString::fromStdString(units::fixed(std::min(first.reserve(), 99.0), 1)));
    labels.place(p, weak, bar_words, rest);
}

void BarDrawing::paint_labels(QPainter& p, const Shape& shape, const job::BarFigures& figures) {
    const auto system = document_.units();
    const auto length = [&](double si, int decimals) {
        return QString::fromStdString(units::text(si, units::Quantity::Length, system, decimals));
    };
    const job::Assembly& a = assembly();
    const bool metric = system == units::System::Metric;
    QPolygonF drawn;
    for (const auto& point : shape.line) { // close enough together that no label slips between
        const QPointF next = on_paper(point.place);
        if (!drawn.isEmpty()) drawn << (drawn.last() + next) / 2;
        drawn << next;
    }
    for (std::size_t side = 0; side < 2; ++side) { // and the links
        const auto& eyes = side == 0 ? shape.left_eyes : shape.right_eyes;
        const QPointF from = on_paper(eyes[static_cast<std::size_t>(shape.eye[side])]),
                      to = on_paper(shape.link_ends[side]);
        for (double part = 0; part <= 1; part += 0.1) drawn << from + part * (to - from);
    }
    paint::Labels labels(QRectF(rect()).adjusted(12, 94, -12, -26), drawn);
    labels.keep_clear(QRectF(width() - 190, 0, 190, 140)); // the figures
    const auto middle = shape.line.size() / 2;
    handle_ = on_paper(shape.line[middle].place);
    const double dsigma = a.bar.outer_diameter.sigma;
    const QString wall =
        a.bar.wall.value > 0 ? tr("tube, wall %1").arg(length(a.bar.wall.value, metric ? 1 : 3)) : tr("solid");
    const auto share = [](double part) { return QString::fromStdString(units::fixed(100 * part, 0)); };
    const bar::Ledger& ledger = figures.ledger;
    if (a.connected) label_weakest(p, labels, shape, figures);
    labels.place(
        p, handle_,
        tr("%1 ± %2, %3")
            .arg(length(a.bar.outer_diameter.value, metric ? 2 : 3),
                 QString::fromStdString(
                     units::trimmed(dsigma / units::shown(units::Quantity::Length, system).factor, metric ? 2 : 4)),
                 wall),
        tr("centre: twist %1 %, bend %2 % of the give").arg(share(ledger.twist_centre), share(ledger.bend_centre)));

    const bool low = height() < 340; // a small window keeps what the fields beside it do not say
    if (shape.clamped) {
        labels.place(p, on_paper(shape.left_eyes[0]), tr("clamped to the trailing arm"), tr("no mounts, no links"));
    } else if (!low) {
        const QPointF mount = on_paper(shape.mounts[0]);
        labels.place(
            p, mount + QPointF(0, 14),
            tr("mount %1")
                .arg(QString::fromStdString(units::text(a.mounts.vertical.value, units::Quantity::Rate, system, 0))),
            tr("bushes and brackets take %1 %").arg(share(ledger.mounts + ledger.brackets)));

        const QPointF at = on_paper(shape.right_eyes[static_cast<std::size_t>(shape.eye[1])]);
        labels.place(p, at,
                     tr("eye %1, arm %2")
                         .arg(a.right_eye + 1)
                         .arg(length(job::arm_to(a, figures.laid, false, a.right_eye), metric ? 0 : 2)),
                     tr("arms: bend %1 %, twist %2 %").arg(share(ledger.bend_arms), share(ledger.twist_arms)));
        const QPointF link =
            (on_paper(shape.left_eyes[static_cast<std::size_t>(shape.eye[0])]) + on_paper(shape.link_ends[0])) / 2;
        labels.place(p, link,
                     a.connected ? tr("link %1 at this roll")
                                       .arg(QString::fromStdString(units::text(std::abs(shape.link_force[0]),
                                                                               units::Quantity::Force, system, 0)))
                                 : tr("link off: tie it up or take it off"),
                     tr("links and joints take %1 %")
                         .arg(share(ledger.link_bodies[0] + ledger.link_bodies[1] + ledger.link_joints[0] +
                                    ledger.link_joints[1])));
    }
}

void BarDrawing::paint_heading(QPainter& p, const job::BarFigures* figures) {
    const Theme& t = theme();
    const job::Assembly& a = assembly();
    const QRectF name = paint::text(p, {20, 58}, Qt::AlignLeft, front_ ? tr("Front bar") : tr("Rear bar"), 17,
                                    axle_colour(front_), true);
    paint::text(p, {name.right() + 10, 59}, Qt::AlignLeft, QString::fromStdString(a.bar.name), 13, t.soft);
    paint::text(p, {20, 80}, Qt::AlignLeft,
                tr("at %1 of body roll, right side down")
                    .arg(QString::fromStdString(units::text(roll_, units::Quantity::Angle, units::System::Metric, 1))),
                12, t.soft);
    if (!figures) return;
    const auto& before = this->figures(true);
    const units::Unit rate = units::shown(units::Quantity::Rate, document_.units());
    const QString unit = QString::fromUtf8(rate.symbol.data(), static_cast<qsizetype>(rate.symbol.size()));
    const auto fixed = [&](double si, int decimals) {
        return QString::fromStdString(units::fixed(si / rate.factor, decimals));
    };
    const double right = width() - 20;
    paint::text(p, {right, 20}, Qt::AlignRight,
                a.held == job::Held::Clamped ? tr("roll-mode rate at the arms' ends") : tr("roll-mode rate at the eye"),
                12, t.soft);
    paint::text(p, {right, 46}, Qt::AlignRight, fixed(figures->eye_rate, rate.decimals), 30,
                document_.old() ? t.soft : axle_colour(front_), true);
    const auto band = [&](job::Outcome of_front, double factor, int decimals) {
        const std::size_t outcome = static_cast<std::size_t>(of_front) + (front_ ? 0 : 1);
        return document_.bands() ? " ± " + QString::fromStdString(units::fixed(
                                               band_90 * document_.bands()->sigma[outcome] / factor, decimals))
                                 : QString();
    };
    paint::text(p, {right, 70}, Qt::AlignRight, unit + band(job::FrontRate, rate.factor, rate.decimals), 13, t.soft);
    const auto row = [&](double y, const QString& what, const QString& value) {
        const QRectF v = paint::text(p, {right, y}, Qt::AlignRight, value, 13, t.ink, true);
        paint::text(p, {std::min(v.left() - 8, right - 122), y}, Qt::AlignRight, what, 12, t.soft);
    };
    row(90, tr("at the wheel"),
        fixed(figures->wheel_rate, rate.decimals) + band(job::FrontWheelRate, rate.factor, rate.decimals) + " " + unit);
    const units::Unit stiffness = units::shown(units::Quantity::TorsionalRate, document_.units());
    row(108, tr("on the car"),
        QString::fromStdString(units::fixed(figures->roll_stiffness / stiffness.factor, 0)) +
            band(job::FrontRollStiffness, stiffness.factor, 0) + " " + QString::fromUtf8(stiffness.symbol.data()));
    if (const auto& standard = document_.standard(front_))
        row(126, tr("times standard"), QString::fromStdString(units::fixed(figures->eye_rate / standard->eye_rate, 2)));
    else if (before && document_.look() == Look::Trial)
        row(126, tr("times Fitted"), QString::fromStdString(units::fixed(figures->eye_rate / before->eye_rate, 2)));
}

/// Where the line of the walk or of the points lies that waits for a usable entry.
void BarDrawing::paint_waiting(QPainter& p) {
    const QStringList path = document_.waiting_path().split('/');
    if (path.size() < 6 || path[0] != document_.look_path() || path[1] != (front_ ? "front" : "rear")) return;
    const auto line = static_cast<std::size_t>(path[4].toUInt());
    Vector3d place;
    if (path[3] == "walk") {
        std::vector<bar::Step> steps;
        for (const job::StepData& s : assembly().bar.walk)
            steps.push_back({.length = s.length.value, .bend = s.bend.value, .plane = s.plane.value, .section = {}});
        const auto corners = bar::corners(steps);
        if (line >= corners.size()) return;
        place = corners[line];
    } else if (path[3] == "points" && line < assembly().bar.points.size()) {
        const job::PointData& at = assembly().bar.points[line];
        place = {at.x.value, at.y.value, at.z.value};
    } else {
        return;
    }
    const QPointF at = on_paper(place);
    p.setPen(QPen(theme().caution, 2.4));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(at, 16, 16);
    paint::text(p, at + QPointF(0, -26), Qt::AlignHCenter, tr("line %1 waits").arg(line + 1), 13, theme().caution,
                true);
}

void BarDrawing::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().ground);
    spots_.clear();
    line_.clear();
    const auto& now = figures(false);
    paint_heading(p, now ? &*now : nullptr);
    if (!now || !assembly().fitted) {
        paint::text(p, rect().center(), Qt::AlignHCenter, tr("No bar on this axle. Tick “Bar fitted” to try one."), 15,
                    theme().soft);
        return;
    }
    // A drawing of the last good bar while a field waits: its own shape, not the typed one's.
    const Shape shape = lay_out(assembly(), *now, 0.04);
    const job::Assembly& fitted =
        front_ ? document_.computed_setup(Look::Fitted).front : document_.computed_setup(Look::Fitted).rear;
    const Shape* before = document_.look() == Look::Trial && figures(true) && fitted.fitted && !(fitted == assembly())
                              ? &ghost(fitted, *figures(true))
                              : nullptr;
    fit_scale(shape, before);
    paint_bar(p, shape);
    if (before) paint_ghost(p, *before);
    paint_labels(p, shape, *now);
    for (const auto& point : shape.line) line_.push_back({on_paper(point.place), point.along, point.stress});
    link_force_ = shape.link_force;
    paint_waiting(p);
    if (document_.old())
        paint::text_within(p, {20, height() - 14.0}, width() - 40, tr("Old picture: ") + document_.waiting(), 12,
                           theme().caution);
    else
        paint::text_within(p, {20, height() - 14.0}, width() - 40,
                           tr("to scale · dashed: as fitted · drag beside the bar to turn it, its middle for another "
                              "diameter · click an "
                              "eye to use it, Ctrl: one side"),
                           11, theme().soft);
}

QPointF BarDrawing::part_place(const QString& what) const {
    if (what == "bar" && !line_.empty()) return line_[line_.size() / 3].place;
    for (const Spot& spot : spots_)
        if (spot.what.startsWith(what)) return spot.place;
    return {};
}

QString BarDrawing::readout(QPointF at) const {
    const auto& now = figures(false);
    if (!now || line_.empty() || spots_.empty()) return {};
    const job::Assembly& a = assembly();
    const auto system = document_.units();
    const auto with_band = [&](double si, double sigma, units::Quantity quantity) {
        const units::Unit unit = units::shown(quantity, system);
        const int decimals = unit.decimals + (quantity == units::Quantity::Length ? 1 : 0);
        const QString band = sigma > 0
                                 ? " ± " + QString::fromStdString(units::fixed(band_90 * sigma / unit.factor, decimals))
                                 : QString();
        return QString::fromStdString(units::fixed(si / unit.factor, decimals)) + band + " " +
               QString::fromUtf8(unit.symbol.data());
    };
    const auto share = [](double part) { return QString::fromStdString(units::fixed(100 * part, 1)) + " %"; };
    const auto relative = [&](job::Outcome of_front) { // sigma over the value
        return document_.relative_band(of_front, front_) / band_90;
    };
    const auto of_standard = [&]() -> QString {
        const auto& standard = document_.standard(front_);
        return standard ? tr("\n× standard %1")
                              .arg(QString::fromStdString(units::fixed(now->eye_rate / standard->eye_rate, 2)))
                        : QString();
    };
    const auto spot = std::min_element(spots_.begin(), spots_.end(), [at](const Spot& x, const Spot& y) {
        return QLineF(x.place, at).length() < QLineF(y.place, at).length();
    });
    const bar::Ledger& l = now->ledger;
    if (QLineF(spot->place, at).length() < 13) {
        if (spot->what == "mounts")
            return tr("%1 mount\nbush, vertical %2\nbushes give %3, brackets %4 of the whole")
                .arg(spot->index == 0 ? tr("left") : tr("right"),
                     with_band(a.mounts.vertical.value, a.mounts.vertical.sigma, units::Quantity::Rate),
                     share(l.mounts), share(l.brackets));
        if (spot->what == "links") {
            const double force = std::abs(link_force_[spot->index]);
            return tr("%1 link\n%2 at this roll\nlinks and joints give %3 of the whole")
                .arg(spot->index == 0 ? tr("left") : tr("right"),
                     with_band(force, force * relative(job::FrontWheelRate), units::Quantity::Force),
                     share(l.link_bodies[0] + l.link_bodies[1] + l.link_joints[0] + l.link_joints[1]));
        }
        const bool left = spot->what.startsWith("left");
        const double arm = job::arm_to(a, now->laid, left, spot->index);
        const bool sizes = a.bar.form == job::Form::Sizes;
        const double sigma = sizes ? a.bar.eyes[static_cast<std::size_t>(spot->index)].arm_length.sigma : 0;
        QString words = tr("%1, %2\narm %3")
                            .arg(spot->what)
                            .arg(spot->index + 1)
                            .arg(with_band(arm, sigma, units::Quantity::Length));
        try {
            const auto ladder = job::eye_ladder(a);
            const auto i = static_cast<std::size_t>(spot->index);
            const double rate = ladder.at(i).at(std::min(i, ladder[i].size() - 1));
            words += tr("\nboth sides there: %1")
                         .arg(with_band(rate, rate * relative(job::FrontRate), units::Quantity::Rate));
        } catch (const BadInput&) { // told at its field
        }
        return words + (spot->index == (left ? a.left_eye : a.right_eye) ? of_standard() : QString());
    }
    const auto inside = std::min_element(line_.begin(), line_.end(), [at](const Inside& x, const Inside& y) {
        return QLineF(x.place, at).length() < QLineF(y.place, at).length();
    });
    if (QLineF(inside->place, at).length() > 12) return {};
    const double reserve = a.bar.yield_strength.value / std::max(1.0, inside->stress);
    return tr("bar %1\n%2 from its left end\n%3 there, reserve %4 ± %5\nrate at the eye %6")
               .arg(with_band(a.bar.outer_diameter.value, a.bar.outer_diameter.sigma, units::Quantity::Length),
                    QString::fromStdString(units::text(inside->along, units::Quantity::Length, system, 0)),
                    QString::fromStdString(units::text(inside->stress, units::Quantity::Stress, system, 0)),
                    QString::fromStdString(units::fixed(std::min(99.0, reserve), 1)),
                    QString::fromStdString(
                        units::fixed(std::min(99.0, band_90 * reserve * relative(job::FrontYieldTravel)), 1)),
                    with_band(now->eye_rate, now->eye_rate * relative(job::FrontRate), units::Quantity::Rate)) +
           of_standard();
}

void BarDrawing::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
    const auto nearest = std::min_element(spots_.begin(), spots_.end(), [this](const Spot& a, const Spot& b) {
        return QLineF(a.place, pressed_).length() < QLineF(b.place, pressed_).length();
    });
    if (nearest != spots_.end() && QLineF(nearest->place, pressed_).length() < 11) {
        const Spot& spot = *nearest;
        if (spot.what.endsWith("eye")) {
            if (document_.look() != Look::Trial) return;
            const bool both = !(event->modifiers() & Qt::ControlModifier), left = spot.what.startsWith("left");
            document_.edit(tr("eye"), {}, [&](job::Job& job) {
                job::Assembly& a = front_ ? job.trial.front : job.trial.rear;
                if (both || left) a.left_eye = spot.index;
                if (both || !left) a.right_eye = spot.index;
            });
        } else {
            emit part_picked(spot.what);
        }
        return;
    }
    if (std::abs(pressed_.y() - handle_.y()) < 14 && std::abs(pressed_.x() - handle_.x()) < 70 &&
        document_.look() == Look::Trial) {
        drag_ = Drag::Diameter;
        dragged_from_ = assembly().bar.outer_diameter.value;
        emit part_picked("bar");
    } else {
        drag_ = Drag::View;
        dragged_from_ = yaw_;
        tilted_from_ = tilt_;
    }
}

void BarDrawing::mouseMoveEvent(QMouseEvent* event) {
    const QPointF by = event->position() - pressed_;
    if (drag_ == Drag::View) {
        yaw_ = std::clamp(dragged_from_ + by.x() / 250, -1.3, 1.3);
        tilt_ = std::clamp(tilted_from_ + by.y() / 250, 0.0, 1.4); // from level to almost above
        update();
    } else if (drag_ == Drag::Diameter) {
        const double step = document_.units() == units::System::Metric ? 0.1e-3 : 0.0254 / 200;
        const double wanted = std::round((dragged_from_ - by.y() * 0.05e-3) / step) * step;
        const double smallest = std::max(1e-3, 2.05 * assembly().bar.wall.value);
        const double value = units::as_filed(std::clamp(wanted, smallest, 0.1), units::Quantity::Length);
        document_.edit(tr("drag of the diameter"), QString("drag diameter %1").arg(dragged_from_), [&](job::Job& job) {
            (front_ ? job.trial.front : job.trial.rear).bar.outer_diameter.value = value;
        });
    } else {
        const bool near =
            std::abs(event->position().y() - handle_.y()) < 14 && std::abs(event->position().x() - handle_.x()) < 70;
        setCursor(near ? Qt::SizeVerCursor : Qt::ArrowCursor);
        QToolTip::showText(event->globalPosition().toPoint(), readout(event->position()), this);
    }
}

void BarDrawing::mouseReleaseEvent(QMouseEvent*) { drag_ = Drag::None; }

} // namespace dervish::app
