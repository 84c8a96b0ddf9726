#include "app/prove/test_chart.h"
#include "core/proof/ramp_test.h"
#include "core/say/proof_words.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/words.h"

#include <QPainter>
#include <cmath>

namespace dervish::app {
namespace {
using job::Method;
using proof::Agreement;

QString length(const Document& d, double si, bool unit = true) {
    const units::Unit u = units::shown(units::Quantity::Length, d.units());
    const int decimals = d.units() == units::System::Metric ? 0 : 2;
    const std::string value = units::fixed(si / u.factor, decimals);
    return qs(unit ? value + " " + std::string(u.symbol) : value);
}

QString signed_length(const Document& d, double si) { return (si > 0 ? "+" : "") + length(d, si); }

/// A step of 1, 2 or 5 that gives some eight marks.
double mark_step(double range) {
    const double rough = range / 8, power = std::pow(10, std::floor(std::log10(rough)));
    for (double m : {1.0, 2.0, 5.0, 10.0})
        if (m * power >= rough) return m * power;
    return 10 * power;
}

void paint_reading(QPainter& p, QPointF at, bool more_than) {
    p.setPen(Qt::NoPen);
    p.setBrush(theme().ink);
    p.drawEllipse(at, 5, 5);
    if (more_than) {
        p.setPen(QPen(theme().ink, 2));
        p.drawLine(at, at + QPointF(22, 0));
        p.drawLine(at + QPointF(22, 0), at + QPointF(16, -5));
        p.drawLine(at + QPointF(22, 0), at + QPointF(16, 5));
    }
}

const job::PlannedTest* test_at(const Document& d, int index) {
    const auto& tests = d.job().tests;
    return index >= 0 && index < static_cast<int>(tests.size()) ? &tests[static_cast<std::size_t>(index)] : nullptr;
}
} // namespace

TestChart::TestChart(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("test chart");
    setMinimumHeight(300);
    connect(&document_, &Document::changed, this, qOverload<>(&QWidget::update));
}

void TestChart::show_test(int index) {
    index_ = index;
    setAccessibleName(verdict());
    update();
}

const job::PlannedTest* TestChart::test() const { return test_at(document_, index_); }

QString TestChart::verdict() const {
    const job::PlannedTest* planned = test();
    if (!planned) return {};
    const job::RampTest& t = planned->ramp;
    if (!t.predicted) return tr("not predicted yet");
    const proof::Verdict v = proof::compare(t);
    if (v.agreement == Agreement::NothingRead) return tr("predicted, nothing read yet");
    const QString head = v.agreement == Agreement::Agrees     ? tr("The test agrees")
                         : v.agreement == Agreement::Doubtful ? tr("Doubtful")
                                                              : tr("The test disagrees");
    if (v.bound && t.method == Method::Growing)
        return head + tr(": more than %1 read").arg(length(document_, v.measured));
    if (v.bound) return head + tr(": no gap read");
    return head + tr(": %1 from the prediction").arg(signed_length(document_, v.difference));
}

void TestChart::paint_scale(QPainter& p, const QRectF& room, const job::RampTest& t) {
    const Theme& th = theme();
    const job::Prediction& pr = t.prediction;
    const double band = band_90 * pr.sigma;
    double low = 0, high = t.method == Method::Growing ? t.ramp_height : 0.05;
    const auto take = [&](double v) {
        low = std::min(low, v * 1.1);
        high = std::max(high, v * 1.1);
    };
    take(pr.value + band);
    take(pr.value - band);
    if (t.guess) take(*t.guess);
    for (const job::Reading& r : t.readings) take(r.value);
    // Close up on what matters once there is something to compare.
    if (t.method == Method::Growing) {
        double near = std::min(pr.value - 2.2 * band, t.guess.value_or(pr.value) - 0.02),
               far = std::max(pr.value + 2.2 * band, t.guess.value_or(pr.value) + 0.02);
        for (const job::Reading& r : t.readings)
            near = std::min(near, r.value - 0.02), far = std::max(far, r.value + 0.03);
        low = std::max(0.0, near);
        high = far;
    }
    const units::Unit u = units::shown(units::Quantity::Length, document_.units());
    const auto x = [&](double v) { return room.left() + room.width() * (v - low) / (high - low); };
    const double base = room.bottom() - 30;
    p.setPen(QPen(th.ink, 1.2));
    p.drawLine(QPointF(room.left(), base), QPointF(room.right(), base));
    const double step = mark_step((high - low) / u.factor) * u.factor;
    for (double v = std::ceil(low / step) * step; v <= high + 1e-9; v += step) {
        p.setPen(QPen(th.ink, 1));
        p.drawLine(QPointF(x(v), base), QPointF(x(v), base + 5));
        paint::text(p, {x(v), base + 16}, Qt::AlignHCenter,
                    qs(units::trimmed(v / u.factor, document_.units() == units::System::Metric ? 0 : 1)), 13, th.soft);
    }
    paint::text(p, {room.right(), base + 34}, Qt::AlignRight,
                (t.method == Method::Growing ? tr("ramp height when a wheel goes light, ")
                                             : tr("gap under the hanging tyre, ")) +
                    QString::fromUtf8(u.symbol.data()),
                13, th.soft);

    const double top = room.top() + 24;
    if (t.predicted) {
        QColor fill = th.front;
        fill.setAlpha(50);
        p.fillRect(QRectF(QPointF(x(pr.value - band), top), QPointF(x(pr.value + band), base)), fill);
        p.setPen(QPen(th.front, 2.5));
        p.drawLine(QPointF(x(pr.value), top), QPointF(x(pr.value), base));
        paint::text(p, {x(pr.value), top - 12}, Qt::AlignHCenter,
                    tr("predicted %1%2 ± %3")
                        .arg(pr.lifted || t.method == Method::Fixed ? "" : tr("more than "),
                             length(document_, pr.value), length(document_, band, false)),
                    13, th.front, true);
    }
    if (t.guess) {
        const QPointF at(x(*t.guess), base - 22);
        p.setPen(QPen(th.ink, 1.4, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawLine(QPointF(at.x(), base), at);
        p.drawPolygon(QPolygonF{at + QPointF(0, -14), at + QPointF(7, -7), at, at + QPointF(-7, -7)});
        paint::text(p, at + QPointF(0, -25), Qt::AlignHCenter, tr("guess %1").arg(length(document_, *t.guess)), 12,
                    th.soft);
    }
    const double each = std::min(26.0, (base - top - 60) / std::max<double>(1, static_cast<double>(t.readings.size())));
    double y = top + 26;
    int n = 1;
    for (const job::Reading& r : t.readings) {
        const QPointF at(x(r.value), y);
        p.setPen(QPen(th.ink, 1.2));
        const double spread = band_90 * t.reading_sigma * room.width() / (high - low);
        p.drawLine(at - QPointF(spread, 0), at + QPointF(spread, 0));
        paint_reading(p, at, r.more_than);
        const bool to_left = at.x() > room.right() - 150;
        paint::text(p, at + QPointF(to_left ? -spread - 10 : spread + (r.more_than ? 30 : 10), 0),
                    to_left ? Qt::AlignRight : Qt::AlignLeft,
                    tr("run %1: %2%3").arg(n++).arg(r.more_than ? tr("more than ") : "", length(document_, r.value)),
                    13, th.ink);
        y += each;
    }
}

void TestChart::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    const job::PlannedTest* planned = test();
    if (!planned) {
        const QPointF c = rect().center();
        paint::text(p, c - QPointF(0, 30), Qt::AlignHCenter, tr("No test yet"), 20, t.ink, true);
        paint::text(
            p, c, Qt::AlignHCenter,
            tr("Plan one at the right: note your guess, let Dervish predict, then run it and type what you read."), 13,
            t.soft);
        paint::text(p, c + QPointF(0, 20), Qt::AlignHCenter,
                    tr("The prediction is frozen before the first reading, so that nobody can bend it afterwards."), 13,
                    t.soft);
        return;
    }
    const job::RampTest& ramp = planned->ramp;
    paint::text(p, {20, 24}, Qt::AlignLeft, qs(planned->name), 17, t.ink, true);
    const auto wheel = [](int w) { return QString(car::wheel_names[static_cast<std::size_t>(w)]); };
    const auto raised = flex::raised_wheels(ramp.raised);
    QStringList aboard;
    for (const job::Load& l : planned->car.vehicle.loads)
        if (job::is_aboard(l, planned->car.setup)) aboard << qs(l.name);
    paint::text_within(p, {20, 47}, width() - 40,
                       tr("%1 and %2 raised; setup “%3”; aboard: %4")
                           .arg(wheel(raised[0]), wheel(raised[1]), qs(planned->car.setup.name),
                                aboard.isEmpty() ? tr("nothing") : aboard.join(", ")),
                       13, t.soft);
    const proof::Verdict v = proof::compare(ramp);
    const QColor tone = v.agreement == Agreement::Disagrees ? t.caution : t.ink;
    paint::text_within(p, {20, 84}, width() - 40, verdict(), 26, tone, true);
    QString more;
    if (!ramp.predicted)
        more = tr("First the guess, then “Predict”: only then the readings.");
    else if (v.agreement == Agreement::NothingRead)
        more = tr("Predicted by model version %1 for what was fitted and aboard then. %2")
                   .arg(qs(ramp.prediction.model),
                        ramp.prediction.light_wheel >= 0
                            ? tr("%1 should go light first.").arg(wheel(ramp.prediction.light_wheel))
                            : "");
    else
        more = tr("read %1 ± %2, predicted %3 ± %4 (90 %), z = %5; within 1.64 agrees, beyond 2.58 disagrees")
                   .arg(length(document_, v.measured), length(document_, band_90 * v.measured_sigma, false),
                        length(document_, ramp.prediction.value),
                        length(document_, band_90 * ramp.prediction.sigma, false))
                   .arg(v.z, 0, 'f', 2);
    paint::text_within(p, {20, 112}, width() - 40, more, 13, t.soft);
    if (!ramp.predicted) {
        const std::pair<QString, bool> steps[] = {{tr("Note your guess"), ramp.guess.has_value()},
                                                  {tr("Predict: the answer is frozen"), false},
                                                  {tr("Run the ramps, type what you read"), false}};
        double y = 170;
        int n = 1;
        for (const auto& [words, done] : steps) {
            p.setPen(QPen(t.ink, 1.6));
            p.setBrush(done ? t.ink : t.panel);
            p.drawEllipse(QPointF(60, y), 17, 17);
            paint::text(p, {60, y}, Qt::AlignHCenter, QString::number(n++), 17, done ? t.panel : t.ink, true);
            paint::text(p, {90, y}, Qt::AlignLeft, done ? tr("Guessed %1").arg(length(document_, *ramp.guess)) : words,
                        16, done ? t.soft : t.ink);
            y += 52;
        }
        return;
    }
    paint_scale(p, QRectF(44, 138, width() - 88, height() - 138 - 24), ramp);
}

TravelGauges::TravelGauges(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setAccessibleName(tr("Travel of each wheel, predicted and read"));
    connect(&document_, &Document::changed, this, qOverload<>(&QWidget::update));
}

void TravelGauges::show_test(int index) {
    index_ = index;
    update();
}

void TravelGauges::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    p.setPen(QPen(t.rule, 1));
    p.drawLine(0, 0, width(), 0);
    const job::PlannedTest* planned = test_at(document_, index_);
    paint::text(p, {20, 20}, Qt::AlignLeft, tr("Travel of each wheel at the lift"), 14, t.ink, true);
    paint::text(p, {20, 39}, Qt::AlignLeft, tr("from ride height, up is bump; band 90 %; dots: as read"), 13, t.soft);
    if (!planned || !planned->ramp.predicted) {
        paint::text(p, {20, 70}, Qt::AlignLeft, tr("Predict the test to see what each wheel should do."), 13, t.soft);
        return;
    }
    const job::RampTest& ramp = planned->ramp;
    double most = 0.05;
    for (const auto& w : ramp.prediction.travel.wheel) most = std::max(most, std::abs(w.value_or(0)) * 1.25);
    const double top = 58, bottom = height() - 14.0, middle = (top + bottom) / 2, unit = (bottom - top) / 2 / most,
                 each = (width() - 40.0) / 4;
    for (int w = 0; w < 4; ++w) {
        const auto i = static_cast<std::size_t>(w);
        const bool narrow = each < 170;
        const double x = 20 + w * each + (narrow ? 22 : 40), predicted = ramp.prediction.travel.wheel[i].value_or(0);
        const double band = band_90 * ramp.prediction.travel_sigma.wheel[i].value_or(0);
        const QColor hue = axle_colour(end_of(w));
        p.setPen(QPen(t.soft, 1));
        p.drawLine(QPointF(x - 26, middle), QPointF(x + 26, middle));
        QColor fill = hue;
        fill.setAlpha(150);
        p.fillRect(QRectF(QPointF(x - 16, middle - predicted * unit), QPointF(x + 16, middle)).normalized(), fill);
        fill.setAlpha(70);
        p.fillRect(QRectF(QPointF(x - 20, middle - (predicted + band) * unit),
                          QPointF(x + 20, middle - (predicted - band) * unit)),
                   fill);
        p.setPen(QPen(hue, 2));
        p.drawLine(QPointF(x - 20, middle - predicted * unit), QPointF(x + 20, middle - predicted * unit));
        p.setPen(Qt::NoPen);
        p.setBrush(t.ink);
        for (const job::Reading& r : ramp.readings)
            if (r.travel.wheel[i]) p.drawEllipse(QPointF(x, middle - *r.travel.wheel[i] * unit), 4, 4);
        const proof::Verdict v = proof::compare_travel(ramp, w);
        const double tx = x + (narrow ? 25 : 34), ty = middle - 34;
        paint::text(p, {tx, ty}, Qt::AlignLeft, car::wheel_names[i], 13, hue, true);
        paint::text(p, {tx, ty + 19}, Qt::AlignLeft,
                    (narrow ? tr("model %1") : tr("predicted %1")).arg(signed_length(document_, predicted)), 13, t.ink);
        paint::text(p, {tx, ty + 36}, Qt::AlignLeft,
                    v.agreement == Agreement::NothingRead ? tr("not read")
                                                          : tr("read %1").arg(signed_length(document_, v.measured)),
                    13, t.ink);
        if (v.agreement != Agreement::NothingRead)
            paint::text(p, {tx, ty + 53}, Qt::AlignLeft, qs(say::words_of(v.agreement)), 13,
                        v.agreement == Agreement::Disagrees ? t.caution : t.soft, v.agreement == Agreement::Disagrees);
    }
}

} // namespace dervish::app
