#include "app/bar/bar_drawing.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "core/job/model.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace dervish::app {
using Eigen::Vector3d;

/// A bar laid out for drawing: its centreline moved, and where its parts are.
struct BarDrawing::Shape {
    struct Point {
        Vector3d place;
        double stress; ///< over the yield strength
    };
    std::vector<Point> line;
    double diameter;
    std::vector<Vector3d> mounts, left_eyes, right_eyes, link_ends;
    std::array<int, 2> eye;
    bool clamped;
    Vector3d worst;
    double worst_stress; ///< Pa
};

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
    const bar::Moved at =
        bar::moved(fine, assembly.connected ? job::link_travel(axle, assembly.held, roll_) : Eigen::Vector2d(0, 0));
    const auto nodes = bar::shape(fine, at);
    const auto stress =
        bar::stress(fine, assembly.connected ? job::link_travel(axle, assembly.held, roll_) : Eigen::Vector2d(0, 0));
    const auto place = [&](std::size_t node) -> Vector3d {
        return fine.node(node) + exaggeration * nodes[node].head<3>();
    };
    Shape out;
    const double yield = fine.bar.material.yield_strength;
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        const std::size_t e = std::min(3 * i + 1, stress.size() - 2);
        out.line.push_back({place(i), stress[e].von_mises / yield});
    }
    const bar::StressPoint& worst = bar::worst(stress);
    double nearest = 1e9;
    for (std::size_t i = 0; i < nodes.size(); ++i)
        if (const double d = (fine.node(i) - worst.place).norm(); d < nearest) {
            nearest = d;
            out.worst = place(i);
        }
    out.worst_stress = worst.von_mises;
    out.diameter = assembly.bar.outer_diameter.value;
    const auto of_point = [&](std::size_t point) { return place(fine.node_of_point[point]); };
    for (const bar::Mount& m : fine.bar.mounts) out.mounts.push_back(of_point(m.point));
    for (std::size_t point : of.laid.left_eye) out.left_eyes.push_back(of_point(point));
    for (std::size_t point : of.laid.right_eye) out.right_eyes.push_back(of_point(point));
    out.clamped = assembly.held == job::Held::Clamped;
    out.eye = out.clamped ? std::array<int, 2>{0, 0} : std::array<int, 2>{assembly.left_eye, assembly.right_eye};
    const bar::Pull pull = out.clamped ? bar::Pull{} : job::to_pull(assembly, fine.bar);
    for (std::size_t side = 0; side < 2; ++side) {
        const auto& eyes = side == 0 ? out.left_eyes : out.right_eyes;
        const Vector3d eye = eyes[static_cast<std::size_t>(out.eye[side])];
        // Links keep their direction; clamped ends are drawn with their arm up to the pivot.
        out.link_ends.push_back(
            out.clamped ? Vector3d(eye + Vector3d(assembly.trailing_arms.to_bar.value, 0, 0))
                        : Vector3d(eye + pull.rods[side]->pickup - fine.bar.line.points[fine.bar.eyes[side]]));
    }
    return out;
}

QPointF BarDrawing::on_paper(const Vector3d& place) const {
    // Seen from behind and above, turned by the yaw: left of the car is to the left.
    const Vector3d d = place - focus_;
    const double c = std::cos(yaw_), s = std::sin(yaw_), tilt = 0.46;
    const double across = -d.y() * c + d.x() * s, away = d.x() * c + d.y() * s;
    return middle_ + scale_ * QPointF(across, -(d.z() * std::cos(tilt) + away * std::sin(tilt)));
}

void BarDrawing::fit_scale(const Shape& shape) {
    scale_ = 1;
    middle_ = {};
    focus_ = Vector3d::Zero();
    QRectF box;
    const auto take = [&](const Vector3d& v) { box |= QRectF(on_paper(v), QSizeF(1e-6, 1e-6)); };
    for (const auto& point : shape.line) take(point.place);
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
        const double stress = shape.line[static_cast<std::size_t>(i)].stress;
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

void BarDrawing::paint_labels(QPainter& p, const Shape& shape, const job::BarFigures& figures) {
    const auto system = document_.units();
    const auto length = [&](double si, int decimals) {
        return QString::fromStdString(units::text(si, units::Quantity::Length, system, decimals));
    };
    const job::Assembly& a = assembly();
    const bool metric = system == units::System::Metric;
    QPolygonF drawn;
    for (const auto& point : shape.line) drawn << on_paper(point.place);
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
    labels.place(p, handle_,
                 tr("%1 ± %2, %3")
                     .arg(length(a.bar.outer_diameter.value, metric ? 2 : 3),
                          QString::fromStdString(units::trimmed(
                              dsigma / units::shown(units::Quantity::Length, system).factor, metric ? 2 : 4)),
                          wall),
                 document_.look() == Look::Trial ? tr("drag up or down to try another") : tr("as fitted"));

    const bool low = height() < 340; // a small window keeps what the fields beside it do not say
    if (shape.clamped) {
        labels.place(p, on_paper(shape.left_eyes[0]), tr("clamped to the trailing arm"), tr("no mounts, no links"));
    } else if (!low) {
        const QPointF mount = on_paper(shape.mounts[0]);
        const double share = 100 * (figures.ledger.mounts + figures.ledger.brackets);
        labels.place(
            p, mount + QPointF(0, 14),
            tr("mount %1")
                .arg(QString::fromStdString(units::text(a.mounts.vertical.value, units::Quantity::Rate, system, 0))),
            tr("bushes and brackets take %1 %").arg(QString::fromStdString(units::fixed(share, 0))));

        const auto eye = static_cast<std::size_t>(shape.eye[1]);
        const QPointF at = on_paper(shape.right_eyes[eye]);
        const job::AxleData& axle = front_ ? document_.job().vehicle.front : document_.job().vehicle.rear;
        const double force = (figures.solution.at_links * job::link_travel(axle, a.held, roll_))[1];
        labels.place(p, at,
                     tr("eye %1, arm %2")
                         .arg(a.right_eye + 1)
                         .arg(length(job::arm_to(a, figures.laid, false, a.right_eye), metric ? 0 : 2)),
                     a.connected ? tr("link %1 at this roll")
                                       .arg(QString::fromStdString(
                                           units::text(std::abs(force), units::Quantity::Force, system, 0)))
                                 : tr("link off: tie it up or take it off"));
    }

    if (!a.connected) return;
    const QPointF weak = on_paper(shape.worst);
    const double reserve =
        shape.worst_stress > 0 ? figures.solution.bar.material.yield_strength / shape.worst_stress : 99;
    labels.place(p, weak,
                 reserve < 1 ? tr("yields here")
                             : tr("weakest here, reserve %1").arg(QString::fromStdString(units::fixed(reserve, 1))),
                 tr("%1 of %2 yield")
                     .arg(QString::fromStdString(units::text(shape.worst_stress, units::Quantity::Stress, system, 0)),
                          QString::fromStdString(units::text(figures.solution.bar.material.yield_strength,
                                                             units::Quantity::Stress, system, 0))));
}

void BarDrawing::paint_heading(QPainter& p, const job::BarFigures* figures) {
    const Theme& t = theme();
    const job::Assembly& a = assembly();
    const QRectF name = paint::text(p, {20, 58}, Qt::AlignLeft, front_ ? tr("Front bar") : tr("Rear bar"), 17,
                                    axle_colour(front_), true);
    paint::text(p, {name.right() + 10, 59}, Qt::AlignLeft, QString::fromStdString(a.bar.name), 13, t.soft);
    paint::text(p, {20, 80}, Qt::AlignLeft,
                tr("at %1 of body roll, right side down; twist drawn %2 times too far")
                    .arg(QString::fromStdString(units::text(roll_, units::Quantity::Angle, units::System::Metric, 1)))
                    .arg(exaggeration),
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
    if (before && document_.look() == Look::Trial) {
        row(126, tr("times Fitted"), QString::fromStdString(units::fixed(figures->eye_rate / before->eye_rate, 2)));
    }
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
    const auto& now = figures(false);
    paint_heading(p, now ? &*now : nullptr);
    if (!now || !assembly().fitted) {
        paint::text(p, rect().center(), Qt::AlignHCenter, tr("No bar on this axle. Tick “Bar fitted” to try one."), 15,
                    theme().soft);
        return;
    }
    // A drawing of the last good bar while a field waits: its own shape, not the typed one's.
    const Shape shape = lay_out(assembly(), *now, 0.018);
    fit_scale(shape);
    const job::Assembly& fitted =
        front_ ? document_.computed_setup(Look::Fitted).front : document_.computed_setup(Look::Fitted).rear;
    paint_bar(p, shape);
    if (document_.look() == Look::Trial && figures(true) && fitted.fitted && !(fitted == assembly()))
        paint_ghost(p, lay_out(fitted, *figures(true), 0.06));
    paint_labels(p, shape, *now);
    paint_waiting(p);
    if (document_.old())
        paint::text_within(p, {20, height() - 14.0}, width() - 40, tr("Old picture: ") + document_.waiting(), 12,
                           theme().caution);
    else
        paint::text_within(
            p, {20, height() - 14.0}, width() - 40,
            tr("to scale · dashed: as fitted · drag beside the bar to turn it · click an eye to use it on both "
               "sides, Ctrl for one side"),
            11, theme().soft);
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
    }
}

void BarDrawing::mouseMoveEvent(QMouseEvent* event) {
    const QPointF by = event->position() - pressed_;
    if (drag_ == Drag::View) {
        yaw_ = std::clamp(dragged_from_ + by.x() / 250, -1.3, 1.3);
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
    }
}

void BarDrawing::mouseReleaseEvent(QMouseEvent*) { drag_ = Drag::None; }

} // namespace dervish::app
