#include "app/balance/manoeuvre_page.h"
#include "app/balance/balance_readings.h"
#include "app/paint/axes.h"
#include "app/shell/theme.h"
#include "app/words.h"
#include "core/model/tyres.h"
#include "core/num/band.h"
#include "core/say/difference_words.h"
#include "core/study/balance.h"
#include "core/study/outside.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QSlider>
#include <algorithm>
#include <cmath>

namespace dervish::app {

ManoeuvreReading::ManoeuvreReading(Document& document, BalanceSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums), runs_([this] {
          bands_.reset();
          change_.clear();
          update();
      }) {
    setObjectName("manoeuvre reading");
    setAccessibleName(tr("A manoeuvre over time"));
    connect(&sums, &BalanceSums::changed, this, qOverload<>(&QWidget::update));
}

void ManoeuvreReading::set_drive(const balance::Drive& drive) {
    balance::Drive same = drive;
    same.patch = drive_.patch; // the ground's own
    if (same == drive_) return;
    drive_ = drive;
    driven_ = 0;
    update();
}

void ManoeuvreReading::work_out() {
    sums_.ask();
    if (!sums_.now() || std::exchange(driven_, sums_.edition()) == sums_.edition()) return;
    drive_.patch = model::wet_patch(document_.computed().vehicle().grounds, sums_.ground());
    runs_.start(
        [now = sums_.now()->model, fitted = sums_.fitted() ? std::optional(sums_.fitted()->model) : std::nullopt,
         drive = drive_](const auto&) {
            Runs out{balance::drive(now, drive), {}};
            if (!out.now.done()) out.now_at = balance::fastest_on_line(now, drive);
            if (fitted) out.fitted = balance::drive(*fitted, drive);
            if (fitted && !out.fitted->done()) out.fitted_at = balance::fastest_on_line(*fitted, drive);
            return out;
        },
        [this, now = document_.computed(), fitted = document_.computed(Look::Fitted), ground = sums_.ground(),
         drive = drive_](const Runs& runs, const auto& cancelled, const auto& post) {
            const sure::Bands bands =
                sure::propagate(now.vehicle(), now.setup(), sure::manoeuvre(drive, ground), cancelled);
            if (cancelled()) return;
            post([this, bands] {
                bands_ = bands;
                update();
            });
            if (!runs.fitted) return;
            const sure::Bands before =
                sure::propagate(fitted.vehicle(), fitted.setup(), sure::manoeuvre(drive, ground), cancelled);
            if (cancelled()) return;
            const auto was = sure::answers_of(*runs.fitted), is = sure::answers_of(runs.now);
            const auto sigma =
                sure::difference_sigma(fitted.setup(), before.shares, now.setup(), bands.shares, sure::run_answers);
            std::vector<sure::Change> change;
            for (std::size_t i = 0; i < sure::run_answers; ++i) change.push_back({is[i] - was[i], sigma[i]});
            post([this, change] {
                change_ = change;
                update();
            });
        });
}

const balance::Run* ManoeuvreReading::run() {
    work_out();
    return runs_.value() ? &runs_.value()->now : nullptr;
}

void ManoeuvreReading::finish() {
    sums_.finish();
    work_out();
    runs_.finish();
}

void ManoeuvreReading::mark(double time) {
    marked_ = time;
    update();
}

void paint_moments(QPainter& p, const QRectF& room, const QString& title, double unit,
                   const std::function<double(const balance::Moment&)>& value, const std::vector<balance::Moment>& now,
                   const std::vector<balance::Moment>* fitted, double marked) {
    const Theme& t = theme();
    double low = 0, high = 1e-9, end = 0;
    for (const auto* run : {&now, fitted ? fitted : &now})
        for (const balance::Moment& m : *run) {
            low = std::min(low, value(m));
            high = std::max(high, value(m));
            end = std::max(end, m.time);
        }
    const double pad = 0.06 * (high - low);
    low -= low < 0 ? pad : 0;
    high += pad;
    const paint::Axes at(room, {0, end}, {low, high});
    at.frame(p);
    p.setPen(QPen(t.soft, 1, Qt::DotLine));
    p.drawLine(at(0, 0), at(end, 0));
    const auto place = [&](const balance::Moment& m) { return at(m.time, value(m)); };
    if (fitted) at.line(p, *fitted, place, paint::fitted_pen());
    at.line(p, now, place, paint::now_pen(t.ink));
    if (marked >= 0) at.upright(p, marked, QPen(t.ink, 1.4));
    paint::text_within(p, {room.left(), room.top() - 10}, room.width(), title, 13, t.soft);
    for (const double v : {low, high})
        at.beside(p, v, qs(units::fixed(v / unit, std::abs(v / unit) < 10 ? 1 : 0)), v == low ? -5 : 6);
    at.under(p, end, qs(units::fixed(end, 1)) + " s", 12, Qt::AlignRight);
}

void ManoeuvreReading::paint_lines(QPainter& p, const QRectF& room, const QString& title, double unit,
                                   const std::function<double(const balance::Moment&)>& value) {
    const Runs& runs = *runs_.value();
    paint_moments(p, room, title, unit, value, runs.now.moments, runs.fitted ? &runs.fitted->moments : nullptr,
                  marked_);
}

namespace {
/// To a millimetre, or a tenth of an inch.
QString length_text(double m, units::System system) {
    return qs(units::text(m, units::Quantity::Length, system, system == units::System::Metric ? 0 : 1));
}

/// A figure of a run: one of its answers in a unit.
struct RunFigure {
    QString what;
    sure::RunAnswer answer;
    double unit;
    int decimals;
    QString symbol;
    QString told(const balance::Run& run, double sigma = 0) const {
        const double value = sure::answers_of(run)[answer];
        if (!std::isfinite(value)) return "–";
        const QString band =
            sigma > 0 ? " ± " + qs(units::fixed(band_90 * sigma / std::abs(unit), decimals)) : QString();
        return qs(units::fixed(value / unit, decimals)) + band + symbol;
    }
};

/// What a manoeuvre comes to, by what it asks.
/// `wheel`: what one carries, N.
std::vector<RunFigure> figures_of(balance::Manoeuvre kind, double wheel, units::System system) {
    const auto tr = [](const char* text) { return QCoreApplication::translate("ManoeuvreReading", text); };
    std::vector<RunFigure> out;
    const auto in = [&](const QString& what, sure::RunAnswer answer, units::Quantity quantity, int decimals) {
        const units::Unit unit = units::shown(quantity, system);
        out.push_back({what, answer, unit.factor, decimals, " " + qs(unit.symbol)});
    };
    const auto length = [&](const QString& what, sure::RunAnswer answer) {
        in(what, answer, units::Quantity::Length, system == units::System::Metric ? 0 : 1);
    };
    const auto angle = [&](const QString& what, sure::RunAnswer answer, const char* symbol = "°") {
        out.push_back({what, answer, units::deg, 1, symbol});
    };
    const auto plain = [&](const QString& what, sure::RunAnswer answer, int decimals, const char* symbol) {
        out.push_back({what, answer, 1, decimals, symbol});
    };
    if (kind == balance::Manoeuvre::Step) {
        plain(tr("yaw at 90 % after"), sure::RunYaw90, 2, " s");
        plain(tr("side force at 90 % after"), sure::RunLateral90, 2, " s");
        out.push_back({tr("lean overshoots by"), sure::RunOvershoot, 0.01, 0, " %"});
    }
    if (balance::disturbs(kind)) {
        length(balance::blows(kind) ? tr("to the right after 1 s") : tr("outwards after 1 s"), sure::RunAside1s);
        length(tr("and in the end"), sure::RunAside);
        angle(tr("turns at most by more"), sure::RunYaw, "°/s");
    }
    if (balance::bumps(kind)) {
        plain(tr("a seat is thrown by"), sure::RunSeat, 1, " m/s²");
        plain(tr("a head is tossed by"), sure::RunHead, 1, " m/s²");
    } else {
        angle(tr("most lean"), sure::RunLean);
    }
    if (kind == balance::Manoeuvre::Gust) {
        length(tr("drifts in the end"), sure::RunDrift);
        angle(tr("heading off by"), sure::RunHeading);
    } else if (!balance::disturbs(kind) && kind != balance::Manoeuvre::Step && kind != balance::Manoeuvre::SlipRoad) {
        angle(tr("differs side to side"), sure::RunSides);
    }
    in(tr("lightest wheel"), sure::RunLightest, units::Quantity::Force, units::force_decimals(wheel));
    if (balance::bumps(kind)) plain(tr("longest in the air"), sure::RunInAir, 2, " s");
    return out;
}
} // namespace

void ManoeuvreReading::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    work_out();
    if (!runs_.value()) return paint_waiting(p);
    const balance::Run& now = runs_.value()->now;
    const std::optional<balance::Run>& fitted = runs_.value()->fitted;
    const auto figures =
        figures_of(drive_.manoeuvre, car::loaded(document_.looked().car).mass * units::g / 4, document_.units());
    // What Trial changes stands under each figure where that has the height, beside it where it has the width, and else
    // instead of what Fitted has.
    const bool changes = !change_.empty(),
               under = changes && height() >= 40 + 40.0 * static_cast<double>(figures.size()) + 40,
               beside = changes && !under && width() >= 780, instead = changes && !under && !beside;
    const double words = beside ? 450 : 290;
    const bool one = width() < 700 || beside; // a picture alone where two would be too narrow
    const double each = (width() - words - 30) / (one ? 1.0 : 2.0);
    const units::System system = document_.units();
    const units::Unit force = units::shown(units::Quantity::Force, system),
                      length = units::shown(units::Quantity::Length, system);
    const QRectF first(62, 24, each - 62, height() - 24 - 30), second(each + 62, 24, each - 62, height() - 24 - 30);
    if (balance::disturbs(drive_.manoeuvre) && !balance::bumps(drive_.manoeuvre))
        paint_lines(
            p, first,
            (balance::blows(drive_.manoeuvre) ? tr("off its line to the right, %1") : tr("off its bend outwards, %1"))
                .arg(qs(length.symbol)),
            length.factor, [](const balance::Moment& m) { return m.aside; });
    else
        paint_lines(p, first, tr("lean, °"), units::deg, [](const balance::Moment& m) { return m.roll; });
    if (!one)
        paint_lines(p, second, tr("lightest wheel, %1").arg(qs(force.symbol)), force.factor,
                    [](const balance::Moment& m) { return *std::min_element(m.load.begin(), m.load.end()); });
    double y = 16;
    const double x = width() - words;
    const double right = width() - (beside ? 180.0 : 16.0);
    const auto row = [&](const QString& what, const QString& value, const QString& before, bool bad = false) {
        const QRectF b = paint::text(p, {right, y}, Qt::AlignRight, before, 13, t.soft);
        const double edge = before.isEmpty() && !fitted ? right : std::min(b.left() - 8, right - 60);
        const QRectF v = paint::text(p, {edge, y}, Qt::AlignRight, value, 13, bad ? t.caution : t.ink, true);
        paint::text_within(p, {x, y}, v.left() - x - 6, what, 13, t.soft);
        y += 20;
    };
    const bool began = now.moments.size() > 1;
    const auto speed_of = [&](double speed) { return qs(units::text(speed, units::Quantity::Speed, system, 0)); };
    const auto line_at = [&](const QString& who, const std::optional<double>& speed) {
        row(who, speed ? tr("the same line up to %1").arg(speed_of(*speed)) : tr("nor at a fifth of this speed"), {},
            true);
    };
    if (now.slower) {
        row(tr("beyond its critical speed"), tr("steers so below %1").arg(speed_of(*now.slower)), {}, true);
        return line_at({}, runs_.value()->now_at);
    }
    if (!began && !now.holds) {
        row({},
            tr("more than the tyres hold, %1").arg(qs(units::fixed(sums_.now()->limit().lateral / units::g, 2)) + " g"),
            {}, true);
        return line_at({}, runs_.value()->now_at);
    }
    row(QString(), tr("now"), instead ? tr("Trial changes") : fitted ? tr("Fitted") : QString());
    if (beside) paint::text(p, {width() - 16.0, y - 20}, Qt::AlignRight, tr("Trial changes"), 13, t.soft);
    for (const RunFigure& figure : figures) {
        const sure::Change c = changes ? change_[figure.answer] : sure::Change{};
        QString told;
        if (changes && std::isfinite(c.by)) {
            told = c.by == 0 && c.sigma == 0 ? tr("no change") : change_words(c, figure.unit, figure.decimals);
            if (!instead) told += ", " + qs(say::sure_words(c)); // else its band tells
        }
        row(figure.what, figure.told(now, bands_ && !instead ? bands_->sigma[figure.answer] : 0),
            instead  ? told
            : fitted ? figure.told(*fitted)
                     : QString());
        if (told.isEmpty() || instead) continue;
        if (under)
            row({}, {}, told);
        else
            paint::text(p, {width() - 16.0, y - 20}, Qt::AlignRight, told, 13, t.soft);
    }
    row(tr("which"), tr(car::wheel_names[static_cast<std::size_t>(now.lowest_wheel)]), {});
    if (!balance::disturbs(drive_.manoeuvre)) {
        const auto ratio = [](const study::BalanceFigures* f) {
            return f && f->roll_damping ? qs(units::fixed(*f->roll_damping, 2)) : tr("none");
        };
        row(tr("roll damping ratio"), ratio(sums_.now()),
            sums_.fitted() && !instead ? ratio(sums_.fitted()) : QString());
    }
    if (!now.followed) row(tr("too quick to follow:"), tr("see roll inertia"), {}, true);
    if (!now.stands) row(tr("both wheels of a side"), tr("in the air"), {}, true);
    if (!now.holds) row(tr("an axle"), tr("slides away"), {}, true);
    if (!now.done() && now.followed) line_at({}, runs_.value()->now_at);
    if (fitted && !fitted->done() && fitted->followed) line_at(tr("Fitted:"), runs_.value()->fitted_at);
}

ManoeuvrePage::ManoeuvrePage(Document& document, BalanceSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), reading_(new ManoeuvreReading(document, sums)), kind_(new QComboBox),
      speed_(new QSlider(Qt::Horizontal)), push_(new QSlider(Qt::Horizontal)), bump_(new QSlider(Qt::Horizontal)),
      words_(new QLabel), push_words_(new QLabel) {
    setObjectName("ground");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* line = new QHBoxLayout;
    line->setContentsMargins(20, 4, 20, 0);
    line->setSpacing(8);
    for (const balance::Manoeuvre m : balance::all_manoeuvres) kind_->addItem(tr(balance::name_of(m)));
    kind_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    kind_->setMinimumContentsLength(20);
    kind_->setMaxVisibleItems(static_cast<int>(std::size(balance::all_manoeuvres)));
    kind_->setObjectName("manoeuvre");
    kind_->setAccessibleName(tr("Manoeuvre"));
    kind_->setCurrentIndex(static_cast<int>(balance::Manoeuvre::LaneChange));
    speed_->setObjectName("manoeuvre speed");
    speed_->setAccessibleName(tr("Speed"));
    speed_->setRange(20, 130);
    speed_->setValue(72);
    push_->setObjectName("manoeuvre push");
    push_->setAccessibleName(tr("How hard it is steered"));
    push_->setRange(5, 90);
    push_->setValue(40);
    bump_->setObjectName("manoeuvre bump");
    bump_->setAccessibleName(tr("Height of the kerb, depth of the hole"));
    bump_->setRange(10, 150);
    bump_->setValue(50);
    for (QSlider* s : {speed_, push_, bump_}) s->setMaximumWidth(110);
    line->addWidget(kind_);
    line->addWidget(new QLabel(tr("speed")));
    line->addWidget(speed_, 1);
    line->addWidget(push_words_);
    line->addWidget(push_, 1);
    line->addWidget(bump_, 1);
    line->addWidget(words_);
    line->addStretch();
    column->addLayout(line);
    column->addWidget(reading_, 1);
    connect(kind_, &QComboBox::activated, this, [this] { set_drive(); });
    connect(&document_, &Document::changed, this, [this] { set_drive(); }); // the car's size, where its wind acts
    for (QSlider* s : {speed_, push_, bump_}) connect(s, &QSlider::valueChanged, this, [this] { set_drive(); });
    set_drive();
}

void ManoeuvrePage::set_drive() {
    const job::Vehicle& v = document_.job().vehicle;
    const double push = push_->value() / 100.0 * units::g;
    const auto kind = static_cast<balance::Manoeuvre>(kind_->currentIndex());
    balance::Drive drive{.manoeuvre = kind,
                         .speed = speed_->value() / 3.6,
                         .lateral = push,
                         .wind_height = study::outside(v).height,
                         .wind_x = -v.wheelbase.value / 2,
                         .bump = bump_->value() * 1e-3};
    drive = study::of_size(drive, v.front.track.value);
    const double gust = drive.wind = 50.0 * std::pow(drive.size, 3) * push_->value(); // N
    reading_->set_drive(drive);
    const bool blows = balance::blows(kind), disturbs = balance::disturbs(kind);
    push_words_->setText(blows ? tr("wind") : disturbs ? tr("bend") : tr("steer"));
    bump_->setVisible(balance::bumps(kind));
    const units::System system = document_.units();
    const QString at = qs(units::text(drive.speed, units::Quantity::Speed, system, 0));
    const QString how = kind == balance::Manoeuvre::Gust      ? tr("%1, %2 of wind for 2 s")
                        : kind == balance::Manoeuvre::WindGap ? tr("%1, %2 of wind, away for 0.8 s")
                        : balance::bumps(kind)                ? tr("%1, %2 g, %3")
                        : disturbs                            ? tr("%1, %2 g")
                                                              : tr("%1, steered for %2 g");
    QString words =
        how.arg(at, QString::fromStdString(blows ? units::text(gust, units::Quantity::Force, system, gust < 100 ? 1 : 0)
                                                 : units::fixed(push / units::g, 2)));
    if (balance::bumps(kind)) words = words.arg(length_text(drive.bump, system));
    words_->setText(words);
}

} // namespace dervish::app
