#include "app/prove/plan_drawing.h"

#include "app/paint/pen.h"
#include "app/prove/run_chart.h"
#include "app/shell/theme.h"
#include "app/words.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
/// Words in lines from a place on; the y after them.
double paragraph(QPainter& p, QPointF at, double wide, const QString& words, int pixels, const QColor& colour,
                 bool bold = false, int most = 3) {
    for (const QString& line : paint::in_lines(words, QFontMetricsF(face(pixels, bold)), {wide}, most)) {
        paint::text(p, at, Qt::AlignLeft, line, pixels, colour, bold);
        at.ry() += pixels + 4;
    }
    return at.y();
}

void nothing(QPainter& p, const QRect& room, const QString& words) {
    paragraph(p, {40, room.center().y() - 20.0}, room.width() - 80.0, words, 15, theme().soft);
}
} // namespace

PlanDrawing::PlanDrawing(Document& document, TestSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums) {
    setObjectName("test plan");
    setAccessibleName(tr("Plan of the test"));
    connect(&sums_, &TestSums::changed, this, qOverload<>(&QWidget::update));
}

double PlanDrawing::paint_steps(QPainter& p, double y) const {
    const Theme& t = theme();
    const job::PlannedTest& test = *sums_.test();
    const std::pair<QString, bool> steps[] = {
        {test.guesses.empty() ? tr("Guess") : tr("Guesses: %1").arg(test.guesses.size()), !test.guesses.empty()},
        {test.predicted() ? tr("Predicted, frozen") : tr("Predict"), test.predicted()},
        {test.runs.empty() ? tr("Run and read") : tr("Runs: %1").arg(test.runs.size()), !test.runs.empty()},
        {test.decision.kind == job::Decision::Kind::None ? tr("Decide") : tr("Decided"),
         test.decision.kind != job::Decision::Kind::None}};
    const double each = (width() - 40) / 4.0;
    for (int i = 0; i < 4; ++i) {
        const QPointF at(38 + i * each, y);
        if (i > 0) {
            p.setPen(QPen(t.rule, 2));
            p.drawLine(QPointF(at.x() - each + 130, y), QPointF(at.x() - 22, y));
        }
        p.setPen(QPen(t.ink, 1.6));
        p.setBrush(steps[i].second ? t.ink : t.panel);
        p.drawEllipse(at, 15, 15);
        paint::text(p, at, Qt::AlignHCenter, QString::number(i + 1), 15, steps[i].second ? t.panel : t.ink, true);
        paint::text_within(p, at + QPointF(22, 0), std::min(each - 46, 112.0), steps[i].first, 14,
                           steps[i].second ? t.soft : t.ink, !steps[i].second);
    }
    return y + 34;
}

double PlanDrawing::paint_order(QPainter& p, double y) const {
    const Theme& t = theme();
    const job::PlannedTest& test = *sums_.test();
    paint::text(p, {20, y}, Qt::AlignLeft,
                test.shuffled ? tr("Order: drawn by lot, on the sealed page of the test sheet; the driver is not told")
                              : tr("Order of the runs"),
                14, t.ink, true);
    y += 24;
    double x = 20;
    const double each = std::min(44.0, (width() - 60.0) / std::max<double>(1, static_cast<double>(test.order.size())));
    for (std::size_t i = 0; i < test.order.size(); ++i) {
        const int state = test.order[i];
        const bool sealed = test.shuffled && i >= test.runs.size();
        QColor fill = t.ink;
        fill.setAlpha(sealed || state == 0 ? 0 : 20 + 22 * state);
        p.setPen(QPen(t.ink, 1.2, state == 0 && !sealed ? Qt::DashLine : Qt::SolidLine));
        p.setBrush(fill);
        p.drawRect(QRectF(x, y - 12, each - 6, 26));
        paint::text(p, {x + (each - 6) / 2, y + 1}, Qt::AlignHCenter, sealed ? "?" : letter_of(state), 14, t.ink, true);
        x += each;
    }
    y += 32;
    QStringList states;
    for (std::size_t s = 0; s < test.states.size(); ++s) states << state_named(test, s);
    return paragraph(p, {20, y}, width() - 40, states.join("     "), 13, t.ink, false, 2) + 6;
}

void PlanDrawing::paint_power(QPainter& p, double y) const {
    const Theme& t = theme();
    const job::PlannedTest& test = *sums_.test();
    const proof::Protocol& protocol = *sums_.protocol();
    paint::text(p, {20, y}, Qt::AlignLeft, tr("Can it answer the question?"), 14, t.ink, true);
    y += 24;
    if (protocol.channels.empty()) {
        paragraph(p, {20, y}, width() - 40, tr("It is felt, not read: what people feel is set beside the sum."), 13,
                  t.soft);
        return;
    }
    const auto heading = [&] {
        if (!sums_.others().empty() && !test.guess_open() && y + 16 < height() - 14)
            paint::text(p, {20, height() - 14.0}, Qt::AlignLeft,
                        test.asks == job::Asks::Which ? tr("What other tests would tell of the two, in as many runs")
                                                      : tr("What other tests would tell of it, in as many runs"),
                        14, t.ink, true);
    };
    if (const auto told = test.guess_open() ? std::nullopt : say::worth_told(test, document_.units())) {
        const double score = proof::worth(test)->score();
        p.fillRect(QRectF(20, y - 6, std::min(420.0, width() - 40.0), 16), t.rule);
        p.fillRect(QRectF(20, y - 6, std::min(420.0, width() - 40.0) * score, 16), score < 0.4 ? t.caution : t.ink);
        y = paragraph(p, {20, y + 32}, width() - 40, qs(told->headline), 18, score < 0.4 ? t.caution : t.ink, true, 2);
        y = paragraph(p, {20, y + 4}, width() - 40, qs(told->detail), 13, t.ink);
        const bool room = y + 62 < height();
        if (const auto power = room && test.states.size() > 1 ? proof::power(test, 0, 0, 1) : std::nullopt)
            paragraph(p, {20, y + 4}, width() - 40, qs(say::told(*power, test, 0, 0, 1, document_.units()).headline),
                      13, t.ink);
        return heading();
    }
    if (test.asks == job::Asks::Unknown) {
        paragraph(p, {20, y}, width() - 40,
                  test.unknown.empty() ? tr("Choose at the right what is not known.")
                  : test.guess_open()  ? tr("How much of it these runs would tell, the prediction will say: until then "
                                             "it would spoil the guess.")
                                       : tr("This kind of test has no figure for this car."),
                  13, t.ink);
        return heading();
    }
    const proof::Channel& c = protocol.channels[0];
    if (test.states.size() < 2) {
        const double mean = proof::read_to(test, c, test.predicted() ? test.states[0].prediction.value[0] : 0) /
                            std::sqrt(std::max<double>(1, static_cast<double>(test.order.size())));
        QString words = tr("In runs of one setup, as many as planned, it is read to ± %1")
                            .arg(qs(say::figure(band_90 * mean, c, document_.units())));
        if (test.predicted() && test.states[0].prediction.tells[0] == job::PredictedValue)
            words += tr("; the sum itself is only sure to ± %1. Whether the sum is right by more than that, this "
                        "cannot tell.")
                         .arg(qs(say::figure(band_90 * test.states[0].prediction.sigma[0], c, document_.units())));
        else
            words += tr(". How sure the sum is, the prediction will say. To judge a change, add a second setup: what "
                        "both share cancels.");
        paragraph(p, {20, y}, width() - 40, words, 13, t.ink);
        return;
    }
    const auto power = proof::power(test, 0, 0, 1);
    if (!power) {
        const auto spread = proof::spread_of_difference(test.order, 0, 1);
        QString words =
            spread ? tr("In this order nine of ten such tests show a difference of %1.")
                         .arg(qs(say::figure(2.93 * *spread * proof::read_to(test, c, 0), c, document_.units())))
                   : tr("This order does not run both setups.");
        words += test.predicted()
                     ? tr(" The sum has no figure of this for both setups.")
                     : tr(" How likely that is, the prediction will say: until then it would spoil the guess.");
        paragraph(p, {20, y}, width() - 40, words, 13, t.ink);
        return;
    }
    const say::Told told = say::told(*power, test, 0, 0, 1, document_.units());
    const double wide = std::min(420.0, width() - 40.0);
    p.setPen(Qt::NoPen);
    p.setBrush(t.rule);
    p.drawRect(QRectF(20, y - 6, wide, 16));
    p.setBrush(power->chance < 0.5 ? t.caution : t.ink);
    p.drawRect(QRectF(20, y - 6, wide * power->chance, 16));
    y += 32;
    y = paragraph(p, {20, y}, width() - 40, qs(told.headline), 18, power->chance < 0.5 ? t.caution : t.ink, true, 2);
    y = paragraph(p, {20, y + 4}, width() - 40, qs(told.detail), 13, t.ink);
    if (power->chance < 0.9 && test.runs.empty()) {
        const auto rounds = sums_.rounds_needed();
        y = paragraph(p, {20, y + 4}, width() - 40,
                      rounds ? tr("%1 runs there and back would make it nine in ten.")
                                   .arg(static_cast<int>(test.states.size()) * *rounds + 1)
                             : tr("No number of runs that anybody would drive makes it nine in ten: look at the other "
                                  "tests below."),
                      13, t.caution);
    }
    heading();
}

void PlanDrawing::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    if (!sums_.test() || !sums_.protocol()) return nothing(p, rect(), tr("No test yet: plan one at the right."));
    if (sums_.hidden()) return nothing(p, rect(), tr("Hidden while another test's guess is open."));
    const job::PlannedTest& test = *sums_.test();
    double y = 24;
    paint::text_within(p, {20, y}, width() - 40,
                       test.question.empty() ? qs(say::words_of(test.asks)) : qs(test.question), 17, t.ink, true);
    y += 22;
    y = paragraph(p, {20, y}, width() - 40, tr(sums_.protocol()->name) + ": " + tr(sums_.protocol()->tells), 13,
                  t.soft);
    y = paint_steps(p, y + 22);
    y = paint_order(p, y + 6);
    paint_power(p, y + 14);
}

PeopleDrawing::PeopleDrawing(Document& document, TestSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums) {
    setObjectName("test people");
    setAccessibleName(tr("What people felt"));
    connect(&sums_, &TestSums::changed, this, qOverload<>(&QWidget::update));
}

void PeopleDrawing::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    if (!sums_.test() || !sums_.protocol()) return nothing(p, rect(), tr("No test yet: plan one at the right."));
    if (sums_.hidden()) return nothing(p, rect(), tr("Hidden while another test's guess is open."));
    const job::PlannedTest& test = *sums_.test();
    paint::text(p, {20, 24}, Qt::AlignLeft, tr("What was felt, before the numbers"), 17, t.ink, true);
    QStringList states;
    for (std::size_t s = 0; s < test.states.size(); ++s)
        states << letter_of(static_cast<int>(s)) + " " + qs(test.states[s].name);
    paint::text_within(p, {20, 46}, width() - 40,
                       tr("Each mark: a person's first letter and the setup's; %1").arg(states.join(" · ")), 13,
                       t.soft);
    struct Line {
        proof::Scale scale;
        std::vector<std::tuple<double, QString, int>> marks;
    };
    std::vector<Line> lines;
    for (const proof::Scale& scale : proof::scales_of(*sums_.protocol())) {
        Line line{scale, {}};
        for (const std::string& person : proof::people_of(test))
            for (int s = 0; s < static_cast<int>(test.states.size()); ++s) {
                if (const auto mark = proof::mark_of(test, s, person, scale.key))
                    line.marks.emplace_back(*mark, qs(person).left(1) + letter_of(s), s);
            }
        if (!line.marks.empty()) lines.push_back(std::move(line));
    }
    if (lines.empty())
        return nothing(p, rect(),
                       tr("Nobody has marked anything yet. Marks are typed under Runs, before the run's numbers are "
                          "shown; several people may mark the same run."));
    const double top = 78, each = std::min(44.0, (height() - top - 10) / static_cast<double>(lines.size()));
    const double left = 190, right = width() - 150;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const double y = top + each * (static_cast<double>(i) + 0.5);
        const Line& line = lines[i];
        paint::text_within(p, {20, y}, 150, tr(line.scale.label), 14, t.ink, true);
        p.setPen(QPen(t.rule, 1.4));
        p.drawLine(QPointF(left, y), QPointF(right, y));
        paint::text_within(p, {left - 2, y + 15}, 150, tr(line.scale.low), 12, t.soft);
        paint::text_within(p, {right + 22, y}, 124, tr(line.scale.high), 12, t.soft);
        std::vector<double> taken;
        for (const auto& [mark, words, state] : line.marks) {
            // Beside others where its place is taken, to whichever side is nearer and on the line.
            const double own = left + (right - left) * mark / 10;
            double x = own;
            for (int step = 1; std::ranges::any_of(taken, [&](double o) { return std::abs(o - x) < 26.5; }); ++step) {
                const double to = own + 27 * ((step + 1) / 2) * (step % 2 ? 1 : -1);
                if (step > 40) break;
                if (to >= left && to <= right) x = to;
            }
            taken.push_back(x);
            p.setPen(QPen(t.ink, 1.4, state == 0 ? Qt::DashLine : Qt::SolidLine));
            p.setBrush(state == 0 ? t.panel : t.ink);
            p.drawEllipse(QPointF(x, y), 13, 13);
            paint::text(p, {x, y}, Qt::AlignHCenter, words, 12, state == 0 ? t.ink : t.panel, true);
        }
    }
}

} // namespace dervish::app
