#include "app/bar/bar_drawing.h"

#include "app/bar/bar_shape.h"
#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "core/edit/setups.h"
#include "core/model/model.h"

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace dervish::app {
using Eigen::Vector3d;

BarDrawing::~BarDrawing() = default;

BarDrawing::BarDrawing(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), roll_(3 * units::deg) {
    setObjectName("ground");
    setMinimumHeight(300);
    setMouseTracking(true);
    setAccessibleName(tr("The bar, drawn to scale"));
    new Follow(document_, this, [this] { take_up(); });
    connect(&document_, &Document::bands_changed, this, qOverload<>(&QWidget::update));
}

void BarDrawing::show_axle(End end) {
    end_ = end;
    take_up();
}

void BarDrawing::set_roll(double radians) {
    roll_ = std::clamp(radians, -8 * units::deg, 8 * units::deg);
    take_up();
}

std::vector<QPointF> BarDrawing::eye_places(bool left) const {
    std::vector<QPointF> out;
    for (const Spot& spot : spots_)
        if (spot.what == (left ? "left eye" : "right eye")) out.push_back(spot.place);
    return out;
}

const job::AxleSetup& BarDrawing::assembly() const {
    const job::Setup& s = document_.computed().setup();
    return s[end_];
}

const std::optional<study::BarFigures>& BarDrawing::figures(bool fitted) const {
    const study::Assessment& a = fitted ? document_.fitted() : document_.looked();
    return a[end_];
}

BarDrawing::Shape BarDrawing::lay_out(const job::AxleSetup& assembly, const study::BarFigures& of,
                                      double longest) const {
    const job::AxleData& axle = document_.computed().vehicle()[end_];
    const bar::Solution fine = bar::solve(of.solution.bar, longest);
    const Eigen::Vector2d travel =
        assembly.connected ? model::link_travel(assembly, axle, roll_) : Eigen::Vector2d(0, 0);
    Shape out;
    out.clamped = assembly.held == job::Held::Clamped;
    const bar::Pull pull = model::to_pull(assembly, axle, fine.bar);
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
    out.eye = out.clamped ? PerSide<int>{0, 0} : PerSide<int>{assembly.left_eye, assembly.right_eye};
    for (std::size_t side = 0; side < 2; ++side) {
        // Clamped ends are drawn with their arm up to the pivot.
        out.link_ends.push_back(out.clamped
                                    ? pull.arms[side]->pivot
                                    : linkage::pickup(pull.rods[side]->path, {travel[static_cast<int>(side)]})->place);
    }
    return out;
}

void BarDrawing::showEvent(QShowEvent*) { take_up(); }

void BarDrawing::take_up() {
    paint::update_below_children(this);
    if (!isVisible()) return;
    const auto& now = figures(false);
    shape_.reset();
    if (!now || !assembly().fitted) return;
    double length = 0;
    for (const bar::Element& e : now->solution.elements) length += e.stretch.length;
    // A model's wire as smooth as a bar. Of the last good bar while a field waits: its own shape, not the typed one's.
    shape_ = std::make_unique<Shape>(lay_out(assembly(), *now, std::min(0.04, length / 28)));
    const job::AxleSetup& fitted = document_.computed(Look::Fitted).setup()[end_];
    if (document_.look() != Look::Trial || !figures(true) || !fitted.fitted || fitted == assembly()) {
        ghost_.reset();
        return;
    }
    const job::AxleData& axle = document_.computed(Look::Fitted).vehicle()[end_];
    if (ghost_ && ghost_of_ == fitted && ghost_roll_ == roll_ && ghost_on_ == axle) return;
    ghost_ = std::make_unique<Shape>(lay_out(fitted, *figures(true), 0.06));
    ghost_of_ = fitted;
    ghost_roll_ = roll_;
    ghost_on_ = axle;
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
    for (const Vector3d& end : shape.link_ends) take(end);
    if (ghost) { // in the picture too, unless it would make the bar itself small
        const QRectF own = box;
        for (const auto& point : ghost->line) take(point.place);
        if (box.width() > 1.5 * own.width() || box.height() > 1.5 * own.height()) box = own;
    }
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
    for (const double side : {-half, half}) p.drawPolyline(paint::beside(line, side));
}

void BarDrawing::paint_bar(QPainter& p, const Shape& shape) {
    const QColor base = axle_colour(end_), hot = theme().caution;
    const double width = std::max(4.0, shape.diameter * scale_);
    // Darker edge first, then the body with the stress as tint: only above half the yield strength.
    QPolygonF line;
    for (const auto& point : shape.line) line << on_paper(point.place);
    paint::thick_line(p, line, width, base.darker(135));
    const auto heat_at = [&](int i) { // in steps, so that a stretch of one tint is one stroke
        const auto from = static_cast<std::size_t>(i);
        const double stress =
            (shape.line[from].stress + shape.line[from + 1].stress) / 2 / assembly().bar.yield_strength.value;
        return std::round(16 * std::clamp((stress - 0.3) / 0.6, 0.0, 1.0)) / 16;
    };
    const auto body = [&](const QPolygonF& part, double heat, paint::Ends ends) {
        const QColor tint = QColor::fromRgbF(float(base.redF() + heat * (hot.redF() - base.redF())),
                                             float(base.greenF() + heat * (hot.greenF() - base.greenF())),
                                             float(base.blueF() + heat * (hot.blueF() - base.blueF())));
        paint::thick_line(p, part, std::max(1.5, width * (0.55 + 0.3 * heat)), tint.lighter(112), ends);
    };
    body(line, 0, paint::Ends::Round);
    for (int i = 0, next; i + 1 < line.size(); i = next) {
        const double heat = heat_at(i);
        for (next = i + 1; next + 1 < line.size() && heat_at(next) == heat; ++next) {
        }
        if (heat > 0) body(line.mid(i, next - i + 1), heat, paint::Ends::Flat);
    }
    for (std::size_t i = 0; i < shape.mounts.size(); ++i) {
        const QPointF at = on_paper(shape.mounts[i]);
        p.setPen(QPen(theme().ink, 1.6));
        p.setBrush(theme().panel);
        p.drawRoundedRect(QRectF(at - QPointF(12, 13), QSizeF(24, 26)), 4, 4);
        paint::disc(p, at, std::max(4.0, width / 2.6), axle_colour(end_), theme().ink, 1.6);
        spots_.push_back({at, "mounts", static_cast<int>(i)});
    }
    for (int side = 0; side < 2; ++side) {
        const auto& eyes = side == 0 ? shape.left_eyes : shape.right_eyes;
        const auto used = static_cast<std::size_t>(shape.eye[static_cast<std::size_t>(side)]);
        const QPointF from = on_paper(eyes[used]), to = on_paper(shape.link_ends[static_cast<std::size_t>(side)]);
        p.setPen(QPen(theme().ink, 3.2, assembly().connected ? Qt::SolidLine : Qt::DotLine, Qt::FlatCap));
        p.drawLine(from, to); // both ends lie under a disc
        paint::disc(p, to, 4.5, theme().panel, theme().ink, 1.6);
        for (std::size_t e = 0; e < eyes.size(); ++e) {
            const QPointF at = on_paper(eyes[e]);
            paint::disc(p, at, 5, e == used ? theme().ink : theme().panel, theme().ink, 1.6);
            spots_.push_back({at, side == 0 ? "left eye" : "right eye", static_cast<int>(e)});
        }
        spots_.push_back({(from + to) / 2, "links", side});
    }
}

/// Where the line of the walk or of the points lies that waits for a usable entry.
void BarDrawing::paint_waiting(QPainter& p) {
    const QStringList path = document_.waiting_path().split('/');
    if (path.size() < 6 || path[0] != document_.look_path() || path[1] != (name_of(end_))) return;
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
    paint::Canvas p(this);
    spots_.clear();
    line_.clear();
    const auto& now = figures(false);
    paint_heading(p, now ? &*now : nullptr);
    if (!now || !shape_) {
        paint::text(p, rect().center(), Qt::AlignHCenter, tr("No bar on this axle. Tick “Bar fitted” to try one."), 15,
                    theme().soft);
        return;
    }
    const Shape& shape = *shape_;
    const Shape* before = ghost_.get();
    fit_scale(shape, before);
    paint_bar(p, shape);
    if (before) paint_ghost(p, *before);
    paint_labels(p, shape, *now);
    for (const auto& point : shape.line) line_.push_back({on_paper(point.place), point.along, point.stress});
    link_force_ = shape.link_force;
    paint_waiting(p);
    if (document_.old())
        paint::text_within(p, {20, height() - 14.0}, width() - 40, tr("Old picture: ") + document_.waiting(), 13,
                           theme().caution);
    else
        paint::text_within(
            p, {20, height() - 14.0}, width() - 40,
            tr("to scale · dashed: as fitted · drag beside it to turn it, its middle for another diameter · "
               "click an eye to use it"),
            13, theme().soft);
}

QPointF BarDrawing::part_place(const QString& what) const {
    if (what == "bar" && !line_.empty()) return line_[line_.size() / 3].place;
    for (const Spot& spot : spots_)
        if (spot.what.startsWith(what)) return spot.place;
    return {};
}

void BarDrawing::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
    const auto nearest = std::min_element(spots_.begin(), spots_.end(), [this](const Spot& a, const Spot& b) {
        return QLineF(a.place, pressed_).length() < QLineF(b.place, pressed_).length();
    });
    if (nearest != spots_.end() && QLineF(nearest->place, pressed_).length() < 11) {
        const Spot& spot = *nearest;
        if (spot.what.endsWith("eye")) {
            if (!document_.may_change()) return;
            const bool both = !(event->modifiers() & Qt::ControlModifier), left = spot.what.startsWith("left");
            document_.edit(tr("eye"), {}, [&](job::Job& job) {
                const job::Assembly& a = job.trial[end_];
                edit::use_eyes(job, end_, both || left ? spot.index : a.left_eye,
                               both || !left ? spot.index : a.right_eye);
            });
        } else {
            emit part_picked(spot.what);
        }
        return;
    }
    if (std::abs(pressed_.y() - handle_.y()) < 14 && std::abs(pressed_.x() - handle_.x()) < 70 &&
        document_.may_change()) {
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
        document_.edit(tr("drag of the diameter"), QString("drag diameter %1").arg(dragged_from_),
                       [&](job::Job& job) { edit::set_size(job, end_, value, job.trial[end_].bar.wall.value); });
    } else {
        const bool near =
            std::abs(event->position().y() - handle_.y()) < 14 && std::abs(event->position().x() - handle_.x()) < 70;
        setCursor(near ? Qt::SizeVerCursor : Qt::ArrowCursor);
        QToolTip::showText(event->globalPosition().toPoint(), readout(event->position()), this);
    }
}

void BarDrawing::mouseReleaseEvent(QMouseEvent*) { drag_ = Drag::None; }

} // namespace dervish::app
