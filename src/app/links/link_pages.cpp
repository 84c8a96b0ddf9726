#include "app/links/link_pages.h"
#include "core/edit/edits.h"
#include "core/model/model.h"

#include "app/shell/theme.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/figure_rows.h"
#include "app/widgets/station_frame.h"
#include "app/widgets/timing.h"
#include "app/words.h"
#include "core/job/fields.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
using Mark = FigureRow::Mark;

/// Up to where a margin is drawn: beyond it there is no more to see.
constexpr double free_angle = 60 * units::deg, clear_of = 0.1;

FigureRow with_scale(FigureRow row, double low, double high, double value, const QString& low_word,
                     const QString& high_word, std::optional<double> was = {}) {
    row.scale = FigureRow::Scale{low, high, std::clamp(value, low, high), was, low_word, high_word};
    return row;
}
} // namespace

LinkPage::LinkPage(Document& document, const QString& name, int columns, QWidget* parent)
    : QWidget(parent), document_(document), fields_(new FieldPanel(document)), left_(new QVBoxLayout),
      rows_(new FigureRows(name)), columns_(columns) {
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(20, 2, 0, 2);
    auto* box = new QWidget;
    box->setFixedWidth(330);
    box->setLayout(left_);
    left_->setContentsMargins(0, 0, 0, 0);
    left_->setSpacing(2);
    left_->addWidget(fields_);
    line->addWidget(box);
    line->addWidget(scrolled(rows_), 1);
    auto* later = new Later(this, [this] {
        if (isVisible()) refresh();
    });
    connect(&document_, &Document::changed, later, qOverload<>(&QTimer::start));
}

void LinkPage::show_end(End end, std::size_t side) {
    end_ = end;
    side_ = side;
    if (isVisible()) refresh();
}

void LinkPage::showEvent(QShowEvent*) { refresh(); }

void LinkPage::refresh() {
    try {
        say();
    } catch (const BadInput& e) {
        rows_->show_rows({}, 1, qs(e.problem() + "; " + e.accepted()));
    }
}

const job::AxleSetup& LinkPage::assembly() const {
    const job::Setup& s = document_.computed().setup();
    return s[end_];
}

const job::AxleData& LinkPage::axle() const { return document_.computed().vehicle()[end_]; }

QString LinkPage::length(double si, int decimals) const {
    return qs(units::text(si, units::Quantity::Length, document_.units(), decimals));
}

QString LinkPage::angle(double si) const { return qs(units::text(si, units::Quantity::Angle, document_.units(), 1)); }

QString LinkPage::force(double si) const { return qs(units::text(si, units::Quantity::Force, document_.units(), 0)); }

PlanPage::PlanPage(Document& document, QWidget* parent)
    : LinkPage(document, "link plan", 1, parent), level_(new QPushButton(tr("Level it"))),
      kept_(new QPushButton(tr("Keep the droop angle"))) {
    level_->setObjectName("take level length");
    kept_->setObjectName("take droop length");
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(level_);
    buttons->addWidget(kept_);
    buttons->addStretch();
    left_->addLayout(buttons);
    left_->addStretch();
    connect(level_, &QPushButton::clicked, this, [this] { take(level_length_, tr("link that levels the bar")); });
    connect(kept_, &QPushButton::clicked, this, [this] { take(kept_length_, tr("link that keeps the droop angle")); });
}

void PlanPage::take(std::optional<double> length, const QString& what) {
    if (!length) return;
    document_.edit(what, {}, [&](job::Job& job) {
        const double longer = side_ == 1 ? job.trial[end_].links.right_longer.value : 0;
        edit::set_link_length(job, end_, *length - longer);
    });
}

void PlanPage::say() {
    const job::AxleSetup& a = assembly();
    const QString own = document_.look_path() + "/" + name_of(end_) + "/";
    const bool trial = document_.may_change();
    fields_->show_fields({own + "stand/lift_by", own + "stand/lift", own + "plan/off_square"}, trial, true);
    level_->setVisible(trial);
    kept_->setVisible(trial);
    level_length_.reset();
    kept_length_.reset();
    if (!a.fitted || a.held != job::Held::Links) {
        rows_->show_rows({}, 1, tr("No links on this axle to plan."));
        level_->setEnabled(false);
        kept_->setEnabled(false);
        return;
    }
    const study::LinkPlan p = study::link_plan(a, axle(), side_);
    const double link = model::to_ends(a, axle())[side_].link;
    std::vector<FigureRow> rows;
    const auto stands = [&](const linkage::Length& l) {
        return tr("arm %1 %2, %3 off square in droop")
            .arg(angle(std::abs(l.attitude)), l.attitude < 0 ? tr("down") : tr("up"), angle(l.off_square));
    };
    const auto change = [&](double to) {
        const double by = to - link;
        if (std::abs(by) < 0.05e-3) return tr("as it is");
        QString out = tr("%1 %2").arg(length(std::abs(by)), by < 0 ? tr("shorter") : tr("longer"));
        if (p.thread) {
            out += tr(", %1 turns").arg(qs(units::fixed(std::abs(by) / p.thread->per_turn(), 2)));
            if (!p.thread->reaches(to)) out += tr(", past its thread");
        }
        return out;
    };
    const auto mark = [&](const linkage::Length& l) {
        return l.off_square > linkage::stop_off_square      ? Mark::Bad
               : l.off_square > linkage::caution_off_square ? Mark::Caution
                                                            : Mark::Plain;
    };
    // On a line as long as the thread reaches, or a usual change of it; the dashed stroke is the link as it is.
    double low = link - 0.03, high = link + 0.03;
    if (p.thread) {
        low = std::min(p.thread->shortest, link);
        high = std::max(p.thread->longest(), link);
    }
    for (const auto* l : {&p.level, &p.kept})
        if (*l) {
            low = std::min(low, (*l)->length);
            high = std::max(high, (*l)->length);
        }
    const auto drawn = [&](FigureRow row, double at) {
        return with_scale(std::move(row), low, high, at, length(low, 0), length(high, 0), link);
    };
    const double lift = a.stand.lift.value;
    rows.push_back(
        {lift == 0
             ? tr("The link at ride height")
             : tr("The link with the car %1 %2").arg(length(std::abs(lift), 0), lift < 0 ? tr("lower") : tr("higher")),
         {},
         {},
         Mark::Heading});
    if (p.now)
        rows.push_back({tr("as it is"), length(link), stands(*p.now), mark(*p.now)});
    else
        rows.push_back({tr("as it is"), length(link), tr("does not reach there"), Mark::Bad});
    if (p.level) {
        level_length_ = p.level->length;
        rows.push_back(drawn({tr("levels the bar"), length(p.level->length), change(p.level->length), Mark::Plain},
                             p.level->length));
        rows.push_back({tr("  and then, in droop"), angle(p.level->off_square),
                        p.level->off_square >= units::pi / 2 - 1e-9 ? tr("over centre") : tr("off square"),
                        mark(*p.level)});
    }
    const QString wanted = angle(a.plan.off_square.value);
    if (p.kept) {
        kept_length_ = p.kept->length;
        rows.push_back(drawn(
            {tr("keeps %1 in droop").arg(wanted), length(p.kept->length),
             std::abs(p.kept->attitude) < 0.05 * units::deg ? tr("level does already") : stands(*p.kept), Mark::Plain},
            p.kept->length));
    } else {
        rows.push_back({tr("keeps %1 in droop").arg(wanted), tr("none"), tr("no length within 150 mm; limit the droop"),
                        Mark::Caution});
    }
    if (p.thread && p.turned && p.now) {
        rows.push_back(
            {tr("one turn"), length(p.thread->per_turn()),
             tr("arm %1, in droop %2")
                 .arg(angle(p.turned->attitude - p.now->attitude), angle(p.turned->off_square - p.now->off_square)),
             Mark::Plain});
        rows.push_back({tr("thread reaches"), length(p.thread->shortest, 0) + " – " + length(p.thread->longest(), 0),
                        tr("1.5 diameters of thread kept in"), Mark::Plain});
    }
    QStringList eyes;
    for (const auto& l : p.by_eye)
        eyes << (l ? qs(units::fixed(*l / units::shown(units::Quantity::Length, document_.units()).factor, 1))
                   : tr("none"));
    if (eyes.size() > 1)
        rows.push_back({tr("level on eyes 1 to %1").arg(eyes.size()), eyes.join(" · "), {}, Mark::Plain});
    rows.push_back({tr("mounts, for an upright link"),
                    length(std::abs(p.upright.forward), 0) + (p.upright.forward < 0 ? tr(" back") : tr(" ahead")),
                    length(std::abs(p.upright.outward), 0) + (p.upright.outward < 0 ? tr(" in") : tr(" out")),
                    Mark::Plain});
    rows_->show_rows(std::move(rows), 1, {});
    level_->setEnabled(level_length_.has_value());
    kept_->setEnabled(kept_length_.has_value());
}

LimitsPage::LimitsPage(Document& document, QWidget* parent) : LinkPage(document, "link limits", 1, parent) {
    left_->parentWidget()->hide();
    layout()->setContentsMargins(0, 2, 0, 2);
}

void LimitsPage::say() {
    const auto sides = study::link_sides(assembly(), axle());
    if (!sides) {
        rows_->show_rows({}, 1, tr("No links on this axle."));
        return;
    }
    const study::LinkLimits limits = study::link_limits((*sides)[side_], side_);
    std::vector<FigureRow> rows;
    const auto place = [&](const linkage::Margin& m) {
        const auto told = [&](double travel) {
            return std::abs(travel) < 5e-4 ? tr("at rest")
                                           : length(std::abs(travel), 0) + (travel < 0 ? tr(" down") : tr(" up"));
        };
        QString out = told(m.at.own);
        if ((*sides)[side_].room.coupled) out += tr(", other %1").arg(told(m.at.other));
        if (m.at.steer != 0)
            out += tr(", %1 %2 lock")
                       .arg(std::abs(m.at.steer) < 0.9 * (*sides)[side_].room.lock ? tr("half") : tr("full"),
                            m.at.steer > 0 ? tr("left") : tr("right"));
        return out;
    };
    rows.push_back({tr("Angles"), {}, {}, Mark::Heading});
    for (const linkage::Margin& m : limits.angles) {
        const bool caution = m.left < linkage::stop_off_square - linkage::caution_off_square &&
                             m.kind <= linkage::Margin::Kind::OffPickup;
        rows.push_back(with_scale({qs(m.what), tr("%1 left").arg(angle(m.left)), place(m),
                                   m.left < 0 ? Mark::Bad
                                   : caution  ? Mark::Caution
                                              : Mark::Plain},
                                  0, free_angle, m.left, tr("at its stop"), tr("free")));
    }
    if (assembly().links.tilt.value > units::pi / 2)
        rows.push_back({tr("joints"), tr("unknown"), tr("give how far they tilt"), Mark::Plain});
    if (const auto& first = limits.in_droop)
        rows.push_back({first->travel < 0 ? tr("damper too long by") : tr("damper may be longer by"),
                        length(std::abs(first->travel), 0), tr("then %1").arg(qs(first->what)),
                        first->travel < 0 ? Mark::Bad : Mark::Plain});
    else
        rows.push_back({tr("damper may be longer by"), tr("200 mm or more"), {}, Mark::Plain});
    const QString modes[2] = {tr("both down"), tr("wheels opposite")};
    for (int i = 0; i < 2; ++i)
        rows.push_back({tr("over centre, %1").arg(modes[i]),
                        limits.over_centre[i] ? length(std::abs(*limits.over_centre[i]), 0) : tr("not near"),
                        limits.over_centre[i] ? (*limits.over_centre[i] < 0 ? tr("down") : tr("up")) : QString(),
                        Mark::Plain});
    rows.push_back({tr("Clearances"), {}, {}, Mark::Heading});
    for (const linkage::Margin& m : limits.distances) {
        const bool near = m.left < 3e-3 && m.left >= 0;
        rows.push_back(with_scale({qs(m.what), length(m.value, 0),
                                   m.left < 0 ? tr("%1 short; %2").arg(length(-m.left, 0), place(m)) : place(m),
                                   m.left < 0 ? Mark::Bad
                                   : near     ? Mark::Caution
                                              : Mark::Plain},
                                  0, clear_of, m.value, tr("touches"), tr("clear")));
    }
    if (limits.distances.empty()) rows.push_back({tr("nothing to keep clear of is listed yet"), {}, {}, Mark::Plain});
    rows_->show_rows(std::move(rows), width() > 620 ? 2 : 1, {}, 0.58);
}

RestPage::RestPage(Document& document, QWidget* parent) : LinkPage(document, "links at rest", 1, parent) {
    left_->addStretch();
}

void RestPage::say() {
    const QString end = document_.look_path() + (QString("/") + name_of(end_) + "/");
    fields_->show_fields({end + "links/right_longer", end + "bar/bent", end + "plan/preload"}, document_.may_change());
    const job::Setup& setup = document_.computed().setup();
    const auto rest = study::rest_state(document_.computed().vehicle(), setup, end_);
    if (!rest) {
        rows_->show_rows({}, 1, tr("Nothing twists a bar that is not connected."));
        return;
    }
    const job::AxleSetup& a = assembly();
    std::vector<FigureRow> rows;
    rows.push_back({tr("The car on its wheels, level"), {}, {}, Mark::Heading});
    const bool carries = rest->link.cwiseAbs().maxCoeff() > 100;
    double most = 1000; // N; a twist that matters to a bolt
    for (int e = 0; e < 2; ++e) most = std::max(most, 1.1 * std::abs(rest->link[e]));
    for (int e = 0; e < 2; ++e)
        rows.push_back(
            with_scale({e == 0 ? tr("left link carries") : tr("right link carries"), force(std::abs(rest->link[e])),
                        std::abs(rest->link[e]) < 1 ? QString()
                        : rest->link[e] > 0         ? tr("pulled")
                                                    : tr("pushed"),
                        carries ? Mark::Caution : Mark::Plain},
                       -most, most, rest->link[e], tr("pushed"), tr("pulled")));
    rows.push_back(with_scale(
        {tr("wheel loads by it"), force(rest->change[0]) + " · " + force(rest->change[1]),
         tr("front left · right; rear %1 · %2").arg(force(rest->change[2]), force(rest->change[3])), Mark::Plain},
        -most, most, rest->change[wheel_at(end_, 0)], tr("left side less"), tr("left side more")));
    const auto thread = study::thread_of(a.links, a.links.length.value);
    const auto way = [&](double by) {
        const QString out = by < 0 ? tr("shorter") : tr("longer");
        return thread ? out + tr(", %1 turns").arg(qs(units::fixed(std::abs(by) / thread->per_turn(), 2))) : out;
    };
    if (!rest->correction) {
        rows.push_back({tr("taken out by"), tr("no length"), tr("look for a bent bar or unlike eyes"), Mark::Caution});
    } else if (std::abs(*rest->correction) < 0.05e-3) {
        rows.push_back({tr("taken out by"), tr("nothing"), tr("there is none in it"), Mark::Plain});
    } else {
        const double by = *rest->correction;
        rows.push_back({tr("taken out: right link"), length(std::abs(by)), way(by), Mark::Plain});
        rows.push_back({tr("  or right link"), length(std::abs(by) / 2), way(by / 2), Mark::Plain});
        rows.push_back({tr("  and left link"), length(std::abs(by) / 2), way(-by / 2), Mark::Plain});
    }
    if (const double wanted = a.plan.preload.value; wanted != 0) {
        rows.push_back({tr("Deliberate preload"), {}, {}, Mark::Heading});
        const auto longer = study::longer_for_load(document_.computed().vehicle(), setup, end_, wanted);
        if (longer)
            rows.push_back({tr("right link longer by"), length(*longer),
                            tr("than now: %1").arg(way(*longer - a.links.right_longer.value)), Mark::Plain});
        else
            rows.push_back({tr("right link longer by"), tr("no length"), tr("within 60 mm gives %1").arg(force(wanted)),
                            Mark::Bad});
    }
    if (carries) rows.push_back({tr("a twisted bar holds energy"), {}, {}, Mark::Caution});
    rows_->show_rows(std::move(rows), 1, {});
}

} // namespace dervish::app
