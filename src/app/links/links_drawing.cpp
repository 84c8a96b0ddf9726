#include "app/links/links_drawing.h"
#include "core/edit/edits.h"

#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/words.h"
#include "core/job/fields.h"

#include <Eigen/Geometry>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace dervish::app {
using Eigen::Vector3d;
using linkage::Mode;

namespace {
constexpr double near_gap = 0.12; // m: gaps above are not drawn

QPolygonF ring(QPointF middle, double radius, double from, double to) {
    QPolygonF out;
    for (int i = 0; i <= 24; ++i) {
        const double a = from + (to - from) * i / 24;
        out << middle + radius * QPointF(std::cos(a), std::sin(a));
    }
    return out;
}
} // namespace

LinksDrawing::LinksDrawing(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("ground");
    setMinimumHeight(300);
    setMouseTracking(true);
    setAccessibleName(tr("The link and its end of the bar, drawn to scale"));
    new Follow(document_, this, [this] { // while it is seen
        take_up();
        update();
    });
    connect(&document_, &Document::bands_changed, this, qOverload<>(&QWidget::update));
    take_up();
}

void LinksDrawing::show_end(End end, std::size_t side) {
    end_ = end;
    side_ = side;
    take_up();
    update();
}

void LinksDrawing::set_travel(Mode mode, double own, double steer) {
    mode_ = mode;
    own_ = own;
    steer_ = steer;
    update();
}

const job::AxleSetup& LinksDrawing::assembly(Look look) const {
    const job::Setup& s = document_.computed(look).setup();
    return s[end_];
}

const job::AxleData& LinksDrawing::axle() const { return document_.computed().vehicle()[end_]; }

void LinksDrawing::take_up() {
    sides_.reset();
    fitted_.reset();
    problem_.clear();
    try {
        sides_ = study::link_sides(assembly(document_.look()), axle());
        if (document_.look() == Look::Trial && !(assembly(Look::Fitted) == assembly(Look::Trial)))
            fitted_ = study::link_sides(assembly(Look::Fitted), document_.computed(Look::Fitted).vehicle()[end_]);
    } catch (const BadInput& e) {
        problem_ = qs(e.problem() + "; " + e.accepted());
    }
}

linkage::Travel LinksDrawing::travel_at(double own) const {
    linkage::Travel t = linkage::in_mode(mode_, own);
    t.steer = steer_;
    return t;
}

QPointF LinksDrawing::Panel::operator()(const Vector3d& p) const {
    // Along the bar: seen from the car's left, front to the left. From behind: the car's left to the left.
    return origin + scale * QPointF(view == View::Along ? -p.x() : -p.y(), -p.z());
}

PerSide<LinksDrawing::Panel> LinksDrawing::panels() const {
    const study::LinkSide& s = (*sides_)[side_];
    QRectF along, behind;
    const auto take = [](QRectF& box, double x, double z, double r = 1e-4) {
        box |= QRectF(x - r, -z - r, 2 * r, 2 * r);
    };
    const auto both = [&](const Vector3d& p, double r = 1e-4) {
        take(along, -p.x(), p.z(), r);
        take(behind, -p.y(), p.z(), r);
    };
    for (const double own : {-s.room.droop, -0.5 * s.room.droop, 0.0, 0.5 * s.room.bump, s.room.bump})
        for (const Mode mode : {Mode::Bump, Mode::OneWheel})
            if (const auto at = linkage::at(s.end, s.branch, linkage::in_mode(mode, own))) {
                both(at->eye);
                both(at->pickup);
            }
    take(along, -s.end.mounts[0].x(), s.end.mounts[0].z(), 0.02);
    const double mount = std::min(std::abs(s.end.mounts[0].y()), std::abs(s.end.mounts[1].y()));
    for (const Vector3d& p : s.room.bar)
        if (std::abs(p.y()) > mount - 0.01) take(behind, -p.y(), p.z());
    if (const auto* arm = std::get_if<linkage::Arm>(&s.end.path)) {
        for (const Vector3d& p : arm->axis) both(p);
        both(arm->wheel);
    }
    for (const linkage::Obstacle& o : s.room.obstacles)
        if (o.kind != linkage::Obstacle::Kind::Wheel)
            both(o.at, o.radius);
        else
            take(behind, -o.at.y(), o.at.z(), 0.05);
    const double top = 118, foot = 34, gap = 26;
    const QRectF all(18, top, width() - 36, height() - top - foot);
    const double scale = std::min({all.height() / std::max(along.height(), behind.height()),
                                   (all.width() - gap) / (along.width() + behind.width())});
    const double spare = (all.width() - gap - scale * (along.width() + behind.width())) / 2;
    const double split = all.left() + scale * along.width() + spare + gap / 2;
    const QRectF left(all.left(), all.top(), split - gap / 2 - all.left(), all.height()),
        right(split + gap / 2, all.top(), all.right() - split - gap / 2, all.height());
    return {Panel{View::Along, left, left.center() - scale * along.center(), scale},
            Panel{View::Behind, right, right.center() - scale * behind.center(), scale}};
}

/// What is near: ground, wheels, other parts, the control arm.
void LinksDrawing::paint_around(QPainter& p, const Panel& panel, const study::LinkSide& s) {
    const Theme& t = theme();
    const linkage::Travel now = travel();
    const bool along = panel.view == View::Along;
    QColor shade = t.rule;
    shade.setAlphaF(0.45f);
    for (const linkage::Obstacle& o : s.room.obstacles) {
        const Vector3d at = linkage::obstacle_at(s.end, s.room, o, now);
        const QPointF place = panel(at);
        const double r = panel.scale * o.radius;
        const bool wheel = o.kind == linkage::Obstacle::Kind::Wheel;
        p.setPen(QPen(t.soft, wheel ? 1 : 1.3));
        p.setBrush(wheel ? QBrush(Qt::NoBrush) : QBrush(shade));
        if (wheel && !along) {
            // Its inner face, with the tyre going on outward; steered, its edges swing.
            const double out = at.y() < 0 ? 1 : -1, swing = std::sin(now.steer) * o.radius * panel.scale;
            const double far = out > 0 ? panel.room.right() : panel.room.left();
            const QRectF face(std::min(place.x(), far), place.y() - r, std::abs(far - place.x()), 2 * r);
            p.fillRect(face, shade);
            p.drawLine(place - QPointF(0, r), place + QPointF(0, r));
            if (height() > 360) { // its name along the face
                p.save();
                p.translate(place.x() - out * 9, panel.room.top() + 8);
                p.rotate(90);
                const double extent = paint::text(p, {0, 0}, Qt::AlignLeft, qs(o.name), 13, t.soft).width();
                p.restore();
                names_.emplace_back(place.x() - out * 9 - 8, panel.room.top() + 8, 16, extent);
            }
            p.setPen(QPen(t.soft, 1));
            if (swing != 0) {
                p.setPen(QPen(t.soft, 1, Qt::DotLine));
                for (const double edge : {-swing, swing})
                    p.drawLine(place + QPointF(edge, -r), place + QPointF(edge, r));
            }
        } else if (o.kind == linkage::Obstacle::Kind::Tube && !along) {
            p.fillRect(QRectF(panel.room.left(), place.y() - r, panel.room.width(), 2 * r), shade);
        } else {
            p.drawEllipse(place, r, r);
        }
    }
    if (s.room.ground) {
        const linkage::OnAxle* axle = std::get_if<linkage::OnAxle>(&s.end.path);
        const double rise = axle && axle->bar_on_axle ? 0 : (now.own + (s.room.coupled ? now.other : now.own)) / 2;
        const double y = panel({0, 0, *s.room.ground + rise}).y();
        p.setPen(QPen(t.ink, 1.4));
        p.drawLine(QPointF(panel.room.left(), y), QPointF(panel.room.right(), y));
    }
    if (const auto* arm = std::get_if<linkage::Arm>(&s.end.path)) {
        linkage::Arm outer = *arm;
        outer.pickup = arm->wheel;
        const auto pick = linkage::pickup(s.end.path, now), joint = linkage::pickup(outer, now);
        if (pick && joint) {
            p.setPen(QPen(t.soft, 3, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            p.setBrush(Qt::NoBrush);
            p.drawPolyline(QPolygonF{panel(arm->axis[0]), panel(joint->place), panel(arm->axis[1])});
            p.setPen(QPen(t.soft, 1, Qt::DashDotLine));
            p.drawLine(panel(arm->axis[0]), panel(arm->axis[1]));
        }
    }
    QPolygonF path; // of the pick-up between the stops
    for (int i = 0; i <= 24; ++i)
        if (const auto at =
                linkage::pickup(s.end.path, travel_at(-s.room.droop + (s.room.bump + s.room.droop) * i / 24)))
            path << panel(at->place);
    p.setPen(QPen(t.ink, 1, Qt::DotLine));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(path);
    for (const QPointF& stop : {path.front(), path.back()}) p.drawLine(stop - QPointF(5, 0), stop + QPointF(5, 0));
}

/// Where the link may not point: within 20° of the arm's line to either side of the eye; within 35° with caution.
void LinksDrawing::paint_dead_line(QPainter& p, const Panel& panel, const study::LinkSide& s,
                                   const linkage::Position& at) {
    const QPointF eye = panel(at.eye), axis = panel(s.end.mounts[0]);
    const double line = std::atan2(eye.y() - axis.y(), eye.x() - axis.x()),
                 size = std::min(0.55 * panel.scale * s.end.link, 90.0);
    const double stop = units::pi / 2 - linkage::stop_off_square, caution = units::pi / 2 - linkage::caution_off_square;
    p.setRenderHint(QPainter::Antialiasing);
    for (const double way : {line, line + units::pi}) {
        const double radius = way == line ? size : std::min(size, 0.8 * QLineF(eye, axis).length());
        QColor tint = theme().caution;
        tint.setAlphaF(0.10f);
        p.setPen(Qt::NoPen);
        p.setBrush(tint);
        p.drawPolygon(QPolygonF{eye} + ring(eye, radius, way - caution, way + caution));
        tint.setAlphaF(0.7f);
        p.setBrush(QBrush(tint, Qt::BDiagPattern));
        p.drawPolygon(QPolygonF{eye} + ring(eye, radius, way - stop, way + stop));
    }
}

void LinksDrawing::paint_ghost(QPainter& p, const Panel& panel) {
    if (!fitted_) return;
    const study::LinkSide& s = (*fitted_)[side_];
    const auto at = linkage::at(s.end, s.branch, travel());
    if (!at) return;
    p.setPen(QPen(QColor("#8793A0"), 1.2, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{panel(at->pickup), panel(at->eye)});
    if (panel.view == View::Along) p.drawLine(panel(at->eye), panel(s.end.mounts[0]));
    p.drawEllipse(panel(at->eye), 5, 5);
}

void LinksDrawing::paint_bar(QPainter& p, const Panel& panel, const study::LinkSide& s, const linkage::Position& at) {
    const Theme& t = theme();
    const QColor hue = axle_colour(end_);
    const double width = std::max(4.0, 2 * s.room.bar_radius * panel.scale);
    const Eigen::AngleAxisd turn(at.turn, (s.end.mounts[1] - s.end.mounts[0]).normalized());
    QPolygonF bar;
    for (const Vector3d& point : s.room.bar) bar << panel(s.end.mounts[0] + turn * (point - s.end.mounts[0]));
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(hue, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPolyline(bar);
    if (panel.view == View::Along) { // the bar cut through at its mount
        p.setPen(QPen(t.ink, 1.6));
        p.setBrush(t.panel);
        const QPointF axis = panel(s.end.mounts[0]);
        const double r = width / 2 + 7;
        p.drawRoundedRect(QRectF(axis - QPointF(r, r), QSizeF(2 * r, 2 * r)), 4, 4);
        p.setBrush(hue);
        p.drawEllipse(axis, width / 2, width / 2);
    }
    const QPointF eye = panel(at.eye), pick = panel(at.pickup);
    const bool on = assembly(document_.look()).connected;
    p.setPen(QPen(t.ink, std::max(3.0, 2 * s.room.link_radius * panel.scale * 0.7), on ? Qt::SolidLine : Qt::DotLine,
                  Qt::RoundCap));
    p.drawLine(eye, pick);
    p.setPen(QPen(t.ink, 1.8));
    p.setBrush(t.panel);
    p.drawEllipse(eye, 6, 6);
    p.drawEllipse(pick, 6, 6);
}

void LinksDrawing::paint_gaps(QPainter& p, const Panel& panel, paint::Labels& labels, const study::LinkSide& s,
                              const linkage::Position& at) {
    auto gaps = linkage::gaps(s.end, at, s.room, travel());
    const auto keep = [](const linkage::Gap& g) { return g.obstacle ? g.obstacle->keep : 0.0; };
    std::erase_if(gaps, [&](const linkage::Gap& g) {
        const Vector3d d = (g.to - g.from).cwiseAbs();
        const bool sideways = d.y() > d.x();
        return g.distance > near_gap || sideways != (panel.view == View::Behind);
    });
    std::sort(gaps.begin(), gaps.end(),
              [&](const auto& a, const auto& b) { return a.distance - keep(a) < b.distance - keep(b); });
    const std::size_t most = height() > 360 ? 3 : 1;
    for (std::size_t i = 0; i < std::min(gaps.size(), most); ++i) {
        const linkage::Gap& g = gaps[i];
        const bool bad = g.distance < keep(g);
        const QColor colour = bad ? theme().caution : theme().ink;
        const QPointF from = panel(g.from), to = panel(g.to), way = to - from;
        p.setPen(QPen(colour, 1.4));
        p.drawLine(from, to);
        const double length = std::hypot(way.x(), way.y());
        if (length > 1) {
            const QPointF across = QPointF(-way.y(), way.x()) / length * 4;
            for (const QPointF& end : {from, to}) p.drawLine(end - across, end + across);
        }
        const QString size = qs(units::text(g.distance, units::Quantity::Length, document_.units(), 0));
        labels.place(
            p, (from + to) / 2, bad ? tr("too near: %1").arg(size) : size,
            tr("%1 to %2").arg(g.of_bar ? tr("bar") : tr("link"), g.obstacle ? qs(g.obstacle->name) : tr("ground")));
    }
}

void LinksDrawing::paint_panel(QPainter& p, const Panel& panel, const study::LinkSide& s, const linkage::Position& at,
                               bool closed) {
    const Theme& t = theme();
    const bool along = panel.view == View::Along;
    p.save();
    p.setClipRect(panel.room.adjusted(0, -8, 0, 8));
    names_.clear();
    paint_around(p, panel, s);
    if (along) paint_dead_line(p, panel, s, at);
    paint_ghost(p, panel);
    paint_bar(p, panel, s, at);
    p.restore();
    const QPointF eye = panel(at.eye), pick = panel(at.pickup);
    QPolygonF avoid{eye, pick};
    for (double part = 0; part <= 1; part += 0.1) avoid << eye + part * (pick - eye);
    const Eigen::AngleAxisd turn(at.turn, (s.end.mounts[1] - s.end.mounts[0]).normalized());
    for (std::size_t i = 0; i + 1 < s.room.bar.size(); ++i)
        for (double part = 0; part <= 1; part += 0.2)
            avoid << panel(s.end.mounts[0] +
                           turn * (s.room.bar[i] + part * (s.room.bar[i + 1] - s.room.bar[i]) - s.end.mounts[0]));
    paint::Labels labels(panel.room, avoid);
    for (const QRectF& name : names_) labels.keep_clear(name);
    const auto system = document_.units();
    if (along) {
        handle_ = (eye + pick) / 2;
        pickup_ = pick;
        link_way_ = (pick - eye) / std::max(1e-9, std::hypot((pick - eye).x(), (pick - eye).y()));
        const double from = drag_ == Drag::Link ? dragged_from_ : s.end.link;
        labels.place(p, handle_, tr("link %1").arg(qs(units::text(s.end.link, units::Quantity::Length, system))),
                     drag_ == Drag::Link ? turns(s.end.link - from)
                     : height() > 360    ? tr("drag for another length")
                                         : QString());
        labels.place(p, eye,
                     closed ? tr("off square %1").arg(qs(units::text(at.off_square, units::Quantity::Angle, system, 0)))
                            : tr("over centre"),
                     closed ? tr("arm %1 %2")
                                  .arg(qs(units::text(std::abs(linkage::attitude(s.end, at.turn)),
                                                      units::Quantity::Angle, system, 0)),
                                       linkage::attitude(s.end, at.turn) < 0 ? tr("down") : tr("up"))
                            : tr("the link no longer reaches its eye"));
    }
    paint_gaps(p, panel, labels, s, at);
    paint::text(p, {panel.room.left() + 2, panel.room.top() - 14}, Qt::AlignLeft,
                along ? tr("along the bar, front to the left") : tr("from behind"), 13, t.soft);
}

void LinksDrawing::paint_heading(QPainter& p, const study::LinkSide& s, const linkage::Position* at) {
    const Theme& t = theme();
    const auto system = document_.units();
    const QString title = end_ == End::Front ? (side_ == 0 ? tr("Front left link") : tr("Front right link"))
                                             : (side_ == 0 ? tr("Rear left link") : tr("Rear right link"));
    paint::text(p, {20, 57}, Qt::AlignLeft, title, 17, axle_colour(end_), true);
    const double right = width() - 20;
    const auto margin = linkage::angle_margins(s.end, s.branch, s.room, side_, 9).front();
    const bool bad = margin.left < 0;
    const bool narrow = width() < 740; // the controls need the whole line
    const double lower = narrow ? 12 : 0;
    if (!narrow) paint::text(p, {right, 20}, Qt::AlignRight, tr("least angle left, all travels"), 13, t.soft);
    const QRectF big = paint::text(p, {right, 45 + lower}, Qt::AlignRight,
                                   qs(units::text(margin.left, units::Quantity::Angle, system, 0)), 28,
                                   bad ? t.caution : axle_colour(end_), true);
    if (bad) {
        const QPointF c(big.left() - 16, 46 + lower);
        p.setPen(QPen(t.caution, 2));
        p.setBrush(Qt::NoBrush);
        p.drawPolygon(QPolygonF{c + QPointF(0, -9), c + QPointF(9, 7), c + QPointF(-9, 7)});
    }
    const QString place = qs(units::text(std::abs(margin.at.own), units::Quantity::Length, system, 0));
    const QRectF which =
        paint::text(p, {right, 69 + lower}, Qt::AlignRight,
                    tr("%1, wheel %2 %3").arg(qs(margin.what), place, margin.at.own < 0 ? tr("down") : tr("up")), 13,
                    bad ? t.caution : t.soft, bad);
    if (at && !narrow)
        paint::text(p, {right, 88}, Qt::AlignRight,
                    tr("motion ratio here %1").arg(qs(units::fixed(std::abs(at->motion_ratio), 3))), 13, t.soft);
    const linkage::Travel now = travel();
    const auto told = [&](double travel) {
        const QString size = qs(units::text(std::abs(travel), units::Quantity::Length, system, 0));
        return std::abs(travel) < 5e-4 ? tr("at ride height")
               : travel < 0            ? tr("%1 down").arg(size)
                                       : tr("%1 up").arg(size);
    };
    QString words = tr("this wheel %1").arg(told(now.own));
    if (s.room.coupled || mode_ != Mode::Bump) words += tr(", the other %1").arg(told(now.other));
    if (now.steer != 0)
        words += tr(", steered %1 %2")
                     .arg(qs(units::text(std::abs(now.steer), units::Quantity::Angle, system, 0)),
                          now.steer > 0 ? tr("left") : tr("right"));
    paint::text_within(p, {20, 80}, which.left() - 36, words, 13, t.soft);
}

void LinksDrawing::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    handle_ = pickup_ = {};
    if (!sides_) {
        const bool clamped = assembly(document_.look()).held == job::Held::Clamped;
        paint::text(p, rect().center(), Qt::AlignHCenter,
                    !problem_.isEmpty() ? problem_
                    : clamped           ? tr("This bar is clamped to its arms: it has no links.")
                                        : tr("No bar on this axle. Fit one under Bar to see its links."),
                    14, problem_.isEmpty() ? theme().soft : theme().caution);
        return;
    }
    const study::LinkSide& s = (*sides_)[side_];
    auto at = linkage::at(s.end, s.branch, travel());
    const bool closed = at.has_value();
    for (double part = 1; !at && part > 0; part -= 0.01) at = linkage::at(s.end, s.branch, travel_at(part * own_));
    paint_heading(p, s, closed ? &*at : nullptr);
    if (!at) return;
    for (const Panel& panel : panels()) paint_panel(p, panel, s, *at, closed);
    paint::text_within(p, {20, height() - 11.0}, width() - 40,
                       tr("to scale · hatched: dead line, 70° off square and more · dashed: as fitted · drag the lower "
                          "joint to move the wheel"),
                       13, theme().soft);
}

QString LinksDrawing::turns(double by) const {
    const auto thread = study::thread_of(assembly(document_.look()).links, (*sides_)[side_].end.link);
    const QString size = qs(units::text(std::abs(by), units::Quantity::Length, document_.units())) +
                         (by < 0 ? tr(" shorter") : tr(" longer"));
    if (!thread) return size;
    return tr("%1 turns %2, %3")
        .arg(qs(units::fixed(std::abs(by) / thread->per_turn(), 2)), by < 0 ? tr("in") : tr("out"), size);
}

void LinksDrawing::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
    if (!sides_) return;
    if (QLineF(pressed_, pickup_).length() < 14) {
        drag_ = Drag::Wheel;
        dragged_from_ = own_;
    } else if (QLineF(pressed_, handle_).length() < 16 && document_.may_change()) {
        drag_ = Drag::Link;
        dragged_from_ = (*sides_)[side_].end.link;
    }
}

void LinksDrawing::drag_link(QPointF to) {
    const QPointF by = to - pressed_;
    const double length = QPointF::dotProduct(by, link_way_) / panels()[0].scale;
    const auto thread = study::thread_of(assembly(Look::Trial).links, dragged_from_);
    const double step = thread                                       ? thread->per_turn() / 8
                        : document_.units() == units::System::Metric ? 0.5e-3
                                                                     : 0.0254 / 64;
    const double change = std::round(length / step) * step;
    document_.edit(tr("drag of the link"), QString("drag link %1").arg(dragged_from_), [&](job::Job& job) {
        job::Job tried = job;
        job::AxleSetup& a = tried.trial[end_];
        const double longer = side_ == 1 ? a.links.right_longer.value : 0; // both links follow: the bar stays even
        try {                                                              // not past where the link reaches
            edit::set_link_length(tried, end_, std::max(5e-3, dragged_from_ + change - longer));
            study::link_sides(a, axle());
            job = tried;
        } catch (const BadInput&) {
        }
    });
}

void LinksDrawing::mouseMoveEvent(QMouseEvent* event) {
    if (drag_ == Drag::Wheel) {
        const study::LinkSide& s = (*sides_)[side_];
        const auto now = linkage::pickup(s.end.path, travel_at(dragged_from_));
        const double rise = now ? std::abs(now->rate_with(mode_ == Mode::Roll   ? -1
                                                          : mode_ == Mode::Bump ? 1
                                                                                : 0)
                                               .z())
                                : 1;
        const double by = -(event->position().y() - pressed_.y()) / panels()[0].scale / std::max(0.1, rise);
        emit scrubbed(std::clamp(dragged_from_ + by, -s.room.droop, s.room.bump));
    } else if (drag_ == Drag::Link) {
        drag_link(event->position());
    } else {
        const bool wheel = sides_ && QLineF(event->position(), pickup_).length() < 14;
        const bool link = sides_ && QLineF(event->position(), handle_).length() < 16;
        setCursor(wheel ? Qt::SizeVerCursor : link ? Qt::SizeAllCursor : Qt::ArrowCursor);
    }
}

void LinksDrawing::mouseReleaseEvent(QMouseEvent*) {
    drag_ = Drag::None;
    update();
}

} // namespace dervish::app
