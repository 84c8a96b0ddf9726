#include "app/prove/run_chart.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
constexpr double change_wide = 214; ///< of the strip that shows what changes, px
constexpr double before_runs = 46;  ///< for the guesses, px

/// A step of 1, 2 or 5 that gives some five marks.
double mark_step(double range) {
    const double rough = range / 5, power = std::pow(10, std::floor(std::log10(rough)));
    for (const double m : {1.0, 2.0, 5.0, 10.0})
        if (m * power >= rough) return m * power;
    return 10 * power;
}

const job::Prediction& prediction_of(const job::PlannedTest& t, int state) {
    return t.states[static_cast<std::size_t>(state)].prediction;
}
bool foretold(const job::Prediction& p) { return p.made && !p.value.empty() && p.tells[0] != job::PredictedNothing; }

/// A reading that is only a bound has an arrow instead of a dot.
void paint_reading(QPainter& p, QPointF at, job::Bound bound) {
    if (bound == job::Bound::Exact) {
        p.drawEllipse(at, 5, 5);
        return;
    }
    const double up = bound == job::Bound::More ? -1 : 1;
    p.drawPolygon(QPolygonF{at + QPointF(-6, 0), at + QPointF(6, 0), at + QPointF(0, up * 10)});
}
} // namespace

RunChart::RunChart(Document& document, TestSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums) {
    setObjectName("test chart");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Runs of the test, predicted and read"));
    connect(&sums_, &TestSums::changed, this, [this] {
        announce();
        update();
    });
}

QString RunChart::verdict() const {
    const job::PlannedTest* t = sums_.test();
    if (!t || !sums_.protocol() || sums_.hidden()) return {};
    if (!t->predicted()) return sums_.protocol()->channels.empty() ? QString() : tr("Not predicted yet");
    return qs(say::told(*t, document_.units()).headline);
}

void RunChart::announce() { setAccessibleDescription(verdict()); }

std::size_t RunChart::shown_runs() const {
    return std::max<std::size_t>(1, std::max(sums_.test()->runs.size(), sums_.test()->order.size()));
}

QRectF RunChart::runs_room() const {
    const bool pair = sums_.test() && sums_.test()->states.size() > 1;
    return QRectF(QPointF(74, 150), QPointF(width() - (pair ? change_wide + 40 : 34), height() - 66));
}

double RunChart::x_of(std::size_t run, const QRectF& room) const {
    const auto n = static_cast<double>(shown_runs());
    return room.left() + before_runs + (room.width() - before_runs) * (static_cast<double>(run) + 0.5) / n;
}

RunChart::Scale RunChart::scale_of(const QRectF& room) const {
    const job::PlannedTest& t = *sums_.test();
    const proof::Channel& c = sums_.protocol()->channels[0];
    double low = 1e300, high = -1e300;
    const auto take = [&](double v, double by) {
        low = std::min(low, v - by);
        high = std::max(high, v + by);
    };
    for (const job::TestState& s : t.states)
        if (foretold(s.prediction)) take(s.prediction.value[0], 1.1 * band_90 * s.prediction.sigma[0]);
    for (std::size_t r = 0; r < t.runs.size(); ++r)
        for (const job::Reading& reading : t.runs[r].readings)
            if (reading.channel == c.spec.key && sums_.run_shown(r))
                take(reading.value, band_90 * proof::read_to(t, c, reading.value));
    for (const job::Guess& g : t.guesses)
        if (g.kind == job::Guess::Kind::Number) take(g.value, 0);
    if (low > high) return {0, 1, room};
    const double least = 4 * proof::read_to(t, c, high), span = std::max(high - low, least), middle = (low + high) / 2;
    return {middle - 0.56 * span, middle + 0.56 * span, room};
}

void RunChart::paint_guesses(QPainter& p, const Scale& s) const {
    const Theme& th = theme();
    std::vector<double> taken;
    for (const job::Guess& g : sums_.test()->guesses) {
        if (g.kind != job::Guess::Kind::Number) continue;
        QPointF at(s.room.left() + 12, s.y(g.value));
        p.setPen(QPen(th.ink, 1.4));
        p.setBrush(th.panel);
        p.drawPolygon(QPolygonF{at + QPointF(0, -6), at + QPointF(6, 0), at + QPointF(0, 6), at + QPointF(-6, 0)});
        double y = at.y();
        while (std::ranges::any_of(taken, [&](double o) { return std::abs(o - y) < 14; })) y += 14;
        taken.push_back(y);
        const QString who = g.person.empty() ? QString() : qs(g.person).left(1);
        paint::text(p, {at.x() + 10, y}, Qt::AlignLeft,
                    sums_.test()->states.size() > 1 ? who + " " + letter_of(g.state) : who, 12, th.soft);
    }
}

void RunChart::paint_runs(QPainter& p, const Scale& s) const {
    const Theme& th = theme();
    const job::PlannedTest& t = *sums_.test();
    const proof::Channel& c = sums_.protocol()->channels[0];
    const std::size_t runs = shown_runs();
    const double half = std::min(34.0, 0.36 * (s.room.width() - before_runs) / static_cast<double>(runs));
    const units::Unit u = units::shown(c.spec.quantity, document_.units());
    const double step = mark_step((s.high - s.low) / u.factor) * u.factor;
    for (double v = std::ceil(s.low / step) * step; v <= s.high; v += step) {
        p.setPen(QPen(th.rule, 0.8));
        p.drawLine(QPointF(s.room.left(), s.y(v)), QPointF(s.room.right(), s.y(v)));
        paint::text(p, {s.room.left() - 8, s.y(v)}, Qt::AlignRight, qs(units::trimmed(v / u.factor, 4)), 12, th.soft);
    }
    QPolygonF first; // the first state's readings, that a drift shows in
    for (std::size_t r = 0; r < runs; ++r) {
        const bool made = r < t.runs.size();
        const int state = made ? t.runs[r].state : r < t.order.size() ? t.order[r] : 0;
        const double x = x_of(r, s.room);
        const job::Prediction& pr = prediction_of(t, state);
        if (foretold(pr)) {
            const double band = band_90 * pr.sigma[0];
            const QRectF box(QPointF(x - half, s.y(pr.value[0] + band)), QPointF(x + half, s.y(pr.value[0] - band)));
            QColor fill = th.ink;
            fill.setAlpha(state == 0 ? 0 : 20 + 22 * state);
            p.setPen(QPen(th.soft, 1, state == 0 ? Qt::DashLine : Qt::SolidLine));
            p.setBrush(fill);
            p.drawRect(box);
            p.setPen(QPen(th.ink, 2, state == 0 ? Qt::DashLine : Qt::SolidLine));
            p.drawLine(QPointF(x - half, s.y(pr.value[0])), QPointF(x + half, s.y(pr.value[0])));
        }
        const bool chosen = made && static_cast<int>(r) == sums_.run();
        if (chosen) {
            p.setPen(QPen(th.ink, hasFocus() ? 2.2 : 1.2));
            p.setBrush(Qt::NoBrush);
            p.drawRoundedRect(QRectF(x - half - 4, s.room.bottom() + 6, 2 * half + 8, 54), 3, 3);
        }
        paint::text(p, {x, s.room.bottom() + 17}, Qt::AlignHCenter, QString::number(r + 1), 14, made ? th.ink : th.soft,
                    made);
        const bool kept_from_driver = t.shuffled && !made;
        paint::text(p, {x, s.room.bottom() + 34}, Qt::AlignHCenter, kept_from_driver ? "?" : letter_of(state), 13,
                    made ? th.ink : th.soft);
        if (!made) continue;
        paint::text_within(p,
                           {x - std::min(half + 2, QFontMetricsF(face(12)).horizontalAdvance(qs(t.runs[r].driver)) / 2),
                            s.room.bottom() + 50},
                           2 * half + 4, qs(t.runs[r].driver), 12, th.soft);
        if (!sums_.run_shown(r)) {
            paint::text(p, {x, s.room.center().y()}, Qt::AlignHCenter, tr("felt first"), 12, th.soft);
            continue;
        }
        for (const job::Reading& reading : t.runs[r].readings) {
            if (reading.channel != c.spec.key) continue;
            const QPointF at(x, s.y(reading.value));
            const bool out = !t.runs[r].discarded.empty() || !reading.discarded.empty();
            if (out) {
                paint::cross(p, at, 6, th.soft, true);
                paint::text(p, at + QPointF(0, 20), Qt::AlignHCenter, tr("left out"), 12, th.soft);
                continue;
            }
            const double spread = band_90 * proof::read_to(t, c, reading.value);
            p.setPen(QPen(th.ink, 1.6));
            p.setBrush(th.ink);
            if (reading.bound == job::Bound::Exact)
                p.drawLine(QPointF(x, s.y(reading.value - spread)), QPointF(x, s.y(reading.value + spread)));
            paint_reading(p, at, reading.bound);
            paint::text(p, at + QPointF(9, -10), Qt::AlignLeft,
                        qs(say::figure(reading.value, c, document_.units(), false)), 14, th.ink, true);
            if (state == 0 && reading.bound == job::Bound::Exact) first << at;
        }
    }
    if (first.size() > 1 && t.states.size() > 1) {
        p.setPen(QPen(th.soft, 1, Qt::DashLine));
        p.drawPolyline(first);
    }
}

void RunChart::paint_change(QPainter& p, const QRectF& room) const {
    const Theme& th = theme();
    const job::PlannedTest& t = *sums_.test();
    const proof::Channel& c = sums_.protocol()->channels[0];
    double y = room.top();
    paint::text(p, {room.left(), y}, Qt::AlignLeft, tr("What it changes"), 15, th.ink, true);
    y += 19;
    const double each = std::min(92.0, (room.height() - 20) / static_cast<double>(t.states.size() - 1));
    for (int other = 1; other < static_cast<int>(t.states.size()); ++other) {
        const auto found = proof::back_to_back(t, 0, 0, other);
        const auto sum = proof::predicted_difference(t, 0, 0, other);
        paint::text(p, {room.left(), y}, Qt::AlignLeft, tr("%1 less %2").arg(letter_of(other), letter_of(0)), 13,
                    th.soft);
        if (!found && !sum) {
            paint::text(p, {room.left(), y + 18}, Qt::AlignLeft, tr("not known yet"), 13, th.soft);
            y += each;
            continue;
        }
        double reach = 1e-12;
        const auto widen = [&](double v, double by) { reach = std::max({reach, std::abs(v - by), std::abs(v + by)}); };
        if (sum) widen(sum->first, band_90 * sum->second);
        if (found) widen(found->difference, found->half_90);
        const double left = room.left(), wide = room.width();
        const auto x = [&](double v) { return left + wide * (0.5 + 0.46 * v / reach); };
        const double line = y + 34;
        p.setPen(QPen(th.soft, 0.8, Qt::DashLine));
        p.drawLine(QPointF(x(0), y + 10), QPointF(x(0), line + 16));
        if (sum) {
            QColor fill = th.ink;
            fill.setAlpha(42);
            p.fillRect(QRectF(QPointF(x(sum->first - band_90 * sum->second), y + 12),
                              QPointF(x(sum->first + band_90 * sum->second), y + 28)),
                       fill);
            p.setPen(QPen(th.ink, 2));
            p.drawLine(QPointF(x(sum->first), y + 12), QPointF(x(sum->first), y + 28));
        }
        if (found) {
            p.setPen(QPen(th.ink, 1.8));
            p.drawLine(QPointF(x(found->difference - found->half_90), line + 6),
                       QPointF(x(found->difference + found->half_90), line + 6));
            p.setBrush(th.ink);
            p.drawEllipse(QPointF(x(found->difference), line + 6), 4, 4);
        }
        const QString words = found ? qs(say::change(found->difference, c, document_.units()) + " ± " +
                                         say::figure(found->half_90, c, document_.units(), false))
                                    : tr("the sum: %1").arg(qs(say::change(sum->first, c, document_.units())));
        paint::text_within(p, {left, line + 25}, wide, words, 14, th.ink, true);
        if (found)
            paint::text_within(p, {left, line + 42}, wide,
                               found->sure == sure::Sure::Surely
                                   ? (found->difference > 0 ? tr("surely more") : tr("surely less"))
                               : found->sure == sure::Sure::Probably
                                   ? (found->difference > 0 ? tr("probably more") : tr("probably less"))
                                   : tr("cannot say"),
                               13, th.soft);
        y += each;
    }
}

void RunChart::paint_empty(QPainter& p) const {
    const Theme& t = theme();
    const QPointF c = QPointF(rect().center());
    QString head = tr("No test yet"),
            words = tr("Plan one at the right: ask your question, note the guess, let Dervish predict, then run it and "
                       "type what you read. The prediction is frozen before the first reading, so that nobody can bend "
                       "it afterwards.");
    if (sums_.hidden()) {
        head = tr("Hidden");
        words = tr("The guess of “%1” is still open: what would answer it is hidden in the whole window. Predict that "
                   "test, or take its hiding off.")
                    .arg(qs(job::open_guess(document_.job())->name));
    } else if (sums_.test()) {
        head = qs(sums_.test()->name);
        words = tr("A kind of test that this Dervish does not know. It is kept as it is.");
    }
    paint::text(p, c - QPointF(0, 30), Qt::AlignHCenter, head, 20, t.ink, true);
    const double wide = std::min(560.0, width() - 60.0);
    double y = c.y();
    for (const QString& line : paint::in_lines(words, QFontMetricsF(face(14)), {wide}, 5)) {
        paint::text(p, {c.x(), y}, Qt::AlignHCenter, line, 14, t.soft);
        y += 20;
    }
}

void RunChart::paintEvent(QPaintEvent*) {
    const Theme& th = theme();
    paint::Canvas p(this);
    const job::PlannedTest* t = sums_.test();
    if (!t || !sums_.protocol() || sums_.hidden()) {
        paint_empty(p);
        return;
    }
    const double wide = width() - 40;
    paint::text_within(p, {20, 24}, wide, t->question.empty() ? qs(t->name) : qs(t->question), 17, th.ink, true);
    QStringList states;
    for (std::size_t s = 0; s < t->states.size(); ++s)
        states << (t->states.size() > 1 ? letter_of(static_cast<int>(s)) + " " : QString()) + qs(t->states[s].name);
    paint::text_within(p, {20, 46}, wide, tr("%1: %2").arg(tr(sums_.protocol()->name), states.join(" · ")), 13,
                       th.soft);
    const say::Told told = t->predicted() ? say::told(*t, document_.units()) : say::Told{};
    const auto whole = t->predicted() ? proof::compare(*t).agreement : proof::Agreement::NothingRead;
    double y = 76;
    // As large as lets it stand in two lines.
    int size = 22;
    while (size > 15 && paint::in_lines(verdict(), QFontMetricsF(face(size, true)), {wide}, 9).size() > 2) --size;
    for (const QString& line : paint::in_lines(verdict(), QFontMetricsF(face(size, true)), {wide}, 3)) {
        paint::text(p, {20, y}, Qt::AlignLeft, line, size, whole == proof::Agreement::Disagrees ? th.caution : th.ink,
                    true);
        y += size + 4;
    }
    for (const QString& line : paint::in_lines(
             t->predicted() ? qs(told.detail)
                            : tr("First the guesses, then “Predict”: the answer is frozen; only then the readings."),
             QFontMetricsF(face(13)), {wide}, 4)) {
        paint::text(p, {20, y - 2}, Qt::AlignLeft, line, 13, th.soft);
        y += 17;
    }
    if (sums_.protocol()->channels.empty()) return;
    const QRectF room = runs_room().adjusted(0, y - 132, 0, 0);
    const Scale scale = scale_of(room);
    const job::FieldSpec& read = sums_.protocol()->channels[0].spec;
    const QString what = with_unit(tr(read.label), read.quantity, document_.units()),
                  key = tr(". Boxes: predicted, 90 %; ◇ guessed");
    const bool fits = QFontMetricsF(face(13)).horizontalAdvance(what + key) < room.width();
    paint::text_within(p, {room.left(), room.top() - 12}, room.width(), fits ? what + key : what, 13, th.soft);
    paint_runs(p, scale);
    paint_guesses(p, scale);
    if (t->states.size() > 1)
        paint_change(
            p, QRectF(QPointF(width() - change_wide - 14, room.top() - 12), QPointF(width() - 18, room.bottom() + 40)));
}

void RunChart::mousePressEvent(QMouseEvent* e) {
    if (!sums_.test() || sums_.hidden()) return;
    const QRectF room = runs_room();
    for (std::size_t r = 0; r < sums_.test()->runs.size(); ++r)
        if (std::abs(e->position().x() - x_of(r, room)) <
            0.5 * (room.width() - before_runs) / static_cast<double>(shown_runs()))
            sums_.show_run(static_cast<int>(r));
}

void RunChart::keyPressEvent(QKeyEvent* e) {
    const int by = e->key() == Qt::Key_Right ? 1 : e->key() == Qt::Key_Left ? -1 : 0;
    if (by == 0) return QWidget::keyPressEvent(e);
    sums_.show_run(sums_.run() + by);
}

} // namespace dervish::app
