#include "app/bar/choices_reading.h"
#include "core/edit/setups.h"
#include "core/job/stock.h"
#include "core/say/bar_words.h"
#include "core/study/assess.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/widgets/timing.h"
#include "app/words.h"
#include "core/job/fields.h"

#include <QInputDialog>
#include <QMessageBox>
#include <QMouseEvent>
#include <QPainter>

namespace dervish::app {
namespace {
QString size_text(const study::Substitute& s, units::System system) {
    const int decimals = system == units::System::Metric ? 1 : 3;
    const QString d =
        qs(units::trimmed(s.outer_diameter / units::shown(units::Quantity::Length, system).factor, decimals));
    const QString w = qs(units::trimmed(s.wall / units::shown(units::Quantity::Length, system).factor, decimals));
    return s.wall > 0 ? d + " × " + w : d + QObject::tr(" solid");
}
} // namespace

ChoicesReading::ChoicesReading(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("choices reading");
    setAccessibleName(tr("What a change is worth, tubes of the same rate, stock"));
    auto* later = new Later(this, [this] { take_up(); });
    new Follow(document_, this, [later] { later->start(); });
    connect(&document_, &Document::bands_changed, this, qOverload<>(&QWidget::update));
}

void ChoicesReading::show_axle(End end) {
    end_ = end;
    take_up();
}

const job::AxleSetup& ChoicesReading::assembly() const {
    const job::Setup& s = document_.computed().setup();
    return s[end_];
}

void ChoicesReading::showEvent(QShowEvent*) { take_up(); }

void ChoicesReading::take_up() {
    update();
    if (!isVisible()) return;
    const job::AxleSetup& a = assembly();
    const auto& stock = document_.job().stock;
    const job::AxleData& axle = document_.computed().vehicle()[end_];
    if (of_ == a && on_ == axle && stock_of_ == stock && worths_in_ == document_.units() && !worths_.empty()) return;
    worths_.clear();
    tubes_.clear();
    stock_.clear();
    try {
        worths_ = study::worths(a, axle, say::diameter_step(a.bar.outer_diameter.value, document_.units()));
        std::vector<double> walls{2e-3, 2.5e-3, 3e-3, 4e-3, 5e-3, 6e-3};
        if (a.bar.outer_diameter.value < say::thickest_wire)
            for (double& wall : walls) wall /= 10;
        tubes_ = study::equal_rate_tubes(a, walls);
        stock_ = study::from_stock(a, stock.empty() ? job::usual_stock() : stock);
    } catch (const BadInput&) { // told at its field
    }
    of_ = a;
    stock_of_ = stock;
    worths_in_ = document_.units();
    on_ = axle;
}

QString ChoicesReading::now_words(double now) const {
    const units::Unit rate = units::shown(units::Quantity::Rate, document_.units());
    const auto number = [&](double si) { return qs(units::fixed(si / rate.factor, rate.decimals)); };
    QString out = tr("%1 ± %2 %3")
                      .arg(number(now), number(now * document_.relative_band(study::FrontRate, end_)), qs(rate.symbol));
    if (const auto& standard = document_.standard(end_); standard && width() > 700)
        out += tr(", × standard %1").arg(qs(units::fixed(now / standard->eye_rate, 2)));
    return out;
}

void ChoicesReading::paint_worths(QPainter& p, const QRectF& room, double now) {
    const Theme& t = theme();
    paint::text_within(p, room.topLeft() + QPointF(0, 8), room.width(), tr("What a change is worth"), 14, t.ink, true);
    paint::text_within(p, room.topLeft() + QPointF(0, 27), room.width(), now_words(now), 13, t.soft);
    double y = room.top() + 50;
    const bool narrow = room.width() < 160; // no room for the bars
    const double middle = room.left() + 0.7 * room.width(), scale = 0.11 * room.width() / 0.3;
    for (const study::Worth& w : worths_) {
        if (y > room.bottom()) break;
        const double by = w.rate / now - 1;
        paint::text_within(p, {room.left(), y}, (narrow ? 0.64 : 0.56) * room.width(), qs(say::words_of(w, worths_in_)),
                           13, t.ink);
        const double x = std::clamp(by, -0.28, 0.28) * scale;
        if (!narrow) p.fillRect(QRectF(std::min(middle, middle + x), y - 5, std::abs(x), 10), axle_colour(end_));
        paint::text(p, {room.right(), y}, Qt::AlignRight,
                    (by > 0 ? "+" : "") + QString::number(100 * by, 'f', narrow ? 0 : 1) + " %", 13, t.ink);
        y += 20;
    }
    p.setPen(QPen(t.ink, 1));
    if (!narrow) p.drawLine(QPointF(middle, room.top() + 40), QPointF(middle, y - 10));
}

void ChoicesReading::paint_substitutes(QPainter& p, const QRectF& room, const QString& title, const QString& below,
                                       const std::vector<study::Substitute>& list, double now, double mass) {
    const Theme& t = theme();
    paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft, title, 14, t.ink, true);
    paint::text_within(p, room.topLeft() + QPointF(0, 27), room.width(), below, 13, t.soft);
    const double w = room.width();
    const bool narrow = w < 220;
    const double rate = narrow ? 0.61 : 0.54, weight = narrow ? 0.805 : 0.78;
    const units::Unit unit = units::shown(units::Quantity::Mass, document_.units());
    double y = room.top() + 48;
    const auto head = [&](double part, const QString& words) {
        paint::text(p, {room.left() + part * w, y}, Qt::AlignRight, words, narrow ? 12 : 13, t.soft);
    };
    head(rate, tr("rate"));
    head(weight, qs(unit.symbol));
    head(1.0, tr("stress"));
    y += 18;
    if (list.empty())
        paint::paragraph(p, {room.left(), y - 9, w, room.bottom() - y + 9},
                         &list == &stock_ ? tr("None comes near its rate and goes round its bends.")
                                          : tr(say::no_tube_words),
                         13, t.ink);
    for (const study::Substitute& s : list) {
        if (y > room.bottom() - 4) break;
        paint::text_within(p, {room.left(), y}, (rate - (narrow ? 0.23 : 0.22)) * w, size_text(s, document_.units()),
                           13, t.ink);
        const auto cell = [&](double part, const QString& words) {
            paint::text(p, {room.left() + part * w, y}, Qt::AlignRight, words, narrow ? 12 : 13, t.ink);
        };
        const double by = 100 * (s.rate / now - 1);
        cell(rate, std::abs(by) < 0.05
                       ? tr("same")
                       : (by > 0 ? "+" : "") + QString::number(by, 'f', std::abs(by) < 10 ? 1 : 0) + " %");
        const double heavier = s.mass - mass;
        cell(weight, std::abs(heavier) < 1e-3 * mass
                         ? tr("same")
                         : (heavier > 0 ? "+" : "") + qs(units::fixed(heavier / unit.factor, 2)));
        cell(1.0, (narrow ? "" : "× ") + QString::number(s.stress, 'f', 2));
        places_.push_back({QRectF(room.left(), y - 9, w, 18), s});
        y += 19;
    }
}

void ChoicesReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    places_.clear();
    const auto& figures = document_.looked()[end_];
    if (!figures) {
        paint::text(p, {20, 24}, Qt::AlignLeft, tr("No bar on this axle, nothing to choose from."), 13, theme().soft);
        return;
    }
    const QRectF room = QRectF(rect()).adjusted(width() < 640 ? 8 : 20, 8, width() < 640 ? -8 : -20, -6);
    const bool narrow = room.width() < 600;
    const double gap = narrow ? 8 : 24, first = narrow ? 0.27 * room.width() : (room.width() - 2 * gap) / 3,
                 w = (room.width() - first - 2 * gap) / 2, second = room.left() + first + gap;
    paint_worths(p, QRectF(room.left(), room.top(), first, room.height()), figures->eye_rate);
    paint_substitutes(p, QRectF(second, room.top(), w, room.height()), tr("Tubes of the same rate"),
                      tr("click one to try it"), tubes_, figures->eye_rate, figures->mass);
    const QRectF third(second + w + gap, room.top(), w, room.height());
    stock_title_ = QRectF(third.left(), third.top(), w, 38);
    paint_substitutes(p, third, tr("Nearest in stock"),
                      document_.job().stock.empty() ? tr("generic sizes; click here for yours")
                                                    : tr("your sizes; click here to change"),
                      stock_, figures->eye_rate, figures->mass);
}

void ChoicesReading::mousePressEvent(QMouseEvent* event) {
    if (stock_title_.contains(event->position())) return edit_stock();
    if (!document_.may_change()) return;
    for (const auto& [box, s] : places_)
        if (box.contains(event->position())) {
            const auto size = s;
            document_.set_look(Look::Trial); // another size is tried, not what is on the car
            document_.edit(tr("size of the bar"), {},
                           [&](job::Job& job) { edit::set_size(job, end_, size.outer_diameter, size.wall); });
            return;
        }
}

void ChoicesReading::edit_stock() {
    const auto& own = document_.job().stock;
    QString text = qs(job::stock_text(own.empty() ? job::usual_stock() : own, document_.units()));
    const units::Unit unit = units::shown(units::Quantity::Length, document_.units());
    for (;;) {
        bool good = false;
        text = QInputDialog::getMultiLineText(
            this, tr("Sizes that can be had"),
            tr("One a line, in %1: diameter, or diameter x wall for a tube. Empty: the usual ones.")
                .arg(qs(unit.symbol)),
            text, &good);
        if (!good) return;
        try {
            const auto sizes = job::parse_stock(text.toStdString(), document_.units());
            document_.edit(tr("stock"), {}, [&](job::Job& job) { edit::set_stock(job, sizes); });
            return;
        } catch (const BadInput& e) {
            QMessageBox::warning(this, tr("Stock"), qs(e.problem() + "; " + e.accepted()));
        }
    }
}

} // namespace dervish::app
