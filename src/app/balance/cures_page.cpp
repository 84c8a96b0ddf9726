#include "app/balance/cures_page.h"

#include "app/balance/balance_drawing.h"
#include "app/balance/balance_readings.h"
#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/station_frame.h"
#include "app/words.h"
#include "core/job/usual.h"
#include "core/model/tyres.h"
#include "core/say/cautions.h"
#include "core/say/difference_words.h"
#include "core/say/job_sheet.h"
#include "core/study/difference.h"
#include "core/study/use.h"
#include "core/sure/draws.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
constexpr int least_row = 26;
}

CuresDrawing::CuresDrawing(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("cures drawing");
    setAccessibleName(tr("Two ways to the same change, with what each costs"));
}

void CuresDrawing::show_cures(const CuresFound* found, const QString& otherwise) {
    found_ = found;
    otherwise_ = otherwise;
    update();
}

QRectF CuresDrawing::card(std::size_t which) const {
    const double wide = (width() - 40 - 12) / 2.0;
    return {20 + static_cast<double>(which) * (wide + 12), 4, wide, height() - 8.0};
}

void CuresDrawing::mousePressEvent(QMouseEvent* event) {
    for (const std::size_t which : {0u, 1u})
        if (found_ && found_->way(which) && card(which).contains(event->position())) emit chosen(which);
}

/// The car from behind as it leans at half a g to the left, Fitted's lean dashed.
void CuresDrawing::paint_lean(QPainter& p, const QRectF& room, const study::Costs& then) {
    const Theme& t = theme();
    const job::Vehicle& v = found_->of.vehicle();
    const QPolygonF body = body_from_behind(v);
    const QRectF box = body.boundingRect();
    const double track = v.rear.track.value, r = v.rear.unsprung_height.value, size = job::size_of(track),
                 wide = 0.11 * size,
                 scale = std::min(room.width() / (track + 0.5 * size), room.height() / (box.bottom() + 0.1 * size));
    const QPointF foot(room.center().x(), room.bottom() - 2);
    p.setPen(QPen(t.ink, 1.2));
    p.drawLine(foot - QPointF(room.width() / 2, 0), foot + QPointF(room.width() / 2, 0));
    p.setPen(Qt::NoPen);
    p.setBrush(QColor("#2A3542"));
    for (const double y : {-track / 2, track / 2})
        p.drawRoundedRect(QRectF(foot + scale * QPointF(y - wide, -2 * r), QSizeF(2 * wide, 2 * r) * scale), 3, 3);
    const auto lean = [&](double angle, bool ghost) {
        p.save();
        p.translate(foot - QPointF(0, scale * r));
        p.rotate(angle / units::deg);
        p.scale(scale, -scale);
        p.translate(0, -r);
        QPen pen = ghost ? QPen(t.soft, 1.2, Qt::DashLine) : QPen(t.ink, 1.8);
        pen.setCosmetic(true);
        p.setPen(pen);
        p.setBrush(ghost ? QBrush(Qt::NoBrush) : QBrush(t.panel));
        p.drawPolygon(body);
        p.restore();
    };
    lean(then.lean, false);
    lean(found_->cures.costs.lean, true);
}

void CuresDrawing::paint_card(QPainter& p, std::size_t which) {
    const Theme& t = theme();
    const study::Cure& way = *found_->way(which);
    const QRectF box = card(which);
    const bool chosen = found_->chosen == which;
    p.setPen(QPen(chosen ? t.ink : t.rule, chosen ? 2 : 1));
    p.setBrush(chosen ? t.panel : t.ground);
    p.drawRoundedRect(box, 4, 4);
    const double left = box.left() + 14;
    paint::text(p, {left, box.top() + 18}, Qt::AlignLeft, qs(say::words_of(way, found_->of.vehicle(), found_->sets)),
                16, t.ink, true);
    paint::text(p, {left, box.top() + 38}, Qt::AlignLeft,
                qs(say::answer_of(way, found_->of.setup(), document_.units())), 13, t.soft);
    double below = box.top() + 56;
    for (const study::Danger& danger : way.dangers) { // before anything else
        paint::text_within(p, {left, below}, box.width() - 28, qs(say::words_of(danger)), 13, t.caution);
        below += 18;
    }
    if (const auto found = found_->cautions.find(found_->shown[which]); found != found_->cautions.end())
        for (const std::string& caution : found->second) {
            paint::text_within(p, {left, below}, box.width() - 28, qs(caution), 13, t.caution);
            below += 18;
        }
    if (const auto work = found_->work.find(found_->shown[which]); work != found_->work.end())
        paint::text_within(p, {left, below}, box.width() - 28, work->second, 13, t.soft);
    const auto lines =
        say::cost_lines(found_->cures.costs, way.then, document_.units(), found_->sure_of(found_->shown[which]));
    const double step = 17, table = box.bottom() - 10 - step * static_cast<double>(lines.size());
    if (const QRectF room(left, below + 12, 0.42 * box.width(), table - below - 22); room.height() > 56) {
        paint_lean(p, room, way.then);
        paint_balance_beam(p, {box.left() + 0.74 * box.width(), room.center().y()}, 0.15 * box.width(),
                           way.then.balance, 11);
    }
    double y = table + step / 2;
    for (const say::CostLine& line : lines) {
        paint::text(p, {left, y}, Qt::AlignLeft, qs(line.what), 13, t.ink);
        const double middle = box.left() + 0.56 * box.width();
        const QColor colour = line.better < 0 ? t.caution : t.soft;
        if (box.width() < 340) { // no room for both
            const double from = left + 122;
            // That nobody can say which way, its colour and its band tell.
            paint::text_within(p, {from, y}, box.right() - 10 - from, qs(line.change).remove(tr("cannot say, ")), 13,
                               colour);
        } else {
            paint::text(p, {middle, y}, Qt::AlignRight, qs(line.value), 13, t.ink, true);
            paint::text_within(p, {middle + 8, y}, box.right() - middle - 18, qs(line.change), 13, colour);
        }
        y += step;
    }
}

void CuresDrawing::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    if (!found_ || !found_->way(0)) {
        p.setFont(face(14));
        p.setPen(theme().soft);
        p.drawText(QRectF(rect()).adjusted(24, 20, -24, -20), Qt::AlignTop | Qt::TextWordWrap, otherwise_);
        return;
    }
    for (const std::size_t which : {0u, 1u})
        if (found_->way(which)) paint_card(p, which);
}

WaysList::WaysList(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("ways");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Other ways to the same"));
}

void WaysList::show_ways(const CuresFound* found) {
    found_ = found;
    helping_.clear();
    if (found)
        for (int i = 0; i < static_cast<int>(found->cures.ways.size()); ++i)
            if (found->cures.ways[static_cast<std::size_t>(i)].helps()) helping_.push_back(i);
    fit_rows();
    update();
}

/// Rows as high as leave none cut in half.
void WaysList::fit_rows() {
    const int room = parentWidget() ? parentWidget()->height() : height(), rows = std::max(1, room / least_row);
    row_height_ = std::max(least_row, room / rows);
    setMinimumHeight(found_ ? row_height_ * (static_cast<int>(helping_.size()) + 1) : 0);
}

void WaysList::resizeEvent(QResizeEvent*) { fit_rows(); }

QString WaysList::words(int way) const {
    const study::Cure& cure = found_->cures.ways[static_cast<std::size_t>(way)];
    return qs(say::words_of(cure, found_->of.vehicle(), found_->sets)) + ": " +
           qs(say::answer_of(cure, found_->of.setup(), document_.units()));
}

QRectF WaysList::row(int way) const {
    const auto at = std::find(helping_.begin(), helping_.end(), way);
    if (at == helping_.end()) return {};
    return {0, static_cast<double>(row_height_ * (at - helping_.begin())), static_cast<double>(width()),
            static_cast<double>(row_height_)};
}

void WaysList::mousePressEvent(QMouseEvent* event) {
    for (const int way : helping_)
        if (row(way).contains(event->position())) return emit picked(way);
}

void WaysList::keyPressEvent(QKeyEvent* event) {
    const int by = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (by == 0 || helping_.empty()) return QWidget::keyPressEvent(event);
    const auto now = std::find(helping_.begin(), helping_.end(), found_->shown[found_->chosen]);
    const auto at = now == helping_.end() ? 0 : static_cast<int>(now - helping_.begin()) + by;
    emit picked(helping_[static_cast<std::size_t>(std::clamp(at, 0, static_cast<int>(helping_.size()) - 1))]);
}

void WaysList::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    if (!found_) return;
    const double name = 20, bar = 0.27 * width(), whole = 0.15 * width(), percent = bar + whole + 8,
                 amount = percent + 48;
    const bool wide = width() > 700; // else the cards alone tell the costs
    const double cost = wide ? 0.74 * width() : width() - 12;
    QStringList no;
    for (std::size_t i = 0; i < found_->cures.ways.size(); ++i) {
        const study::Cure& cure = found_->cures.ways[i];
        const QString what = qs(say::words_of(cure, found_->of.vehicle(), found_->sets));
        if (!cure.helps()) {
            no << what;
            continue;
        }
        const QRectF place = row(static_cast<int>(i));
        const double y = place.center().y();
        if (found_->shown[found_->chosen] == static_cast<int>(i)) {
            p.fillRect(place.adjusted(12, 1, -12, -1), t.panel);
            p.setPen(QPen(t.ink, 1));
            p.setBrush(Qt::NoBrush);
            p.drawRect(place.adjusted(12, 1, -12, -1));
        }
        paint::text_within(p, {name, y}, bar - name - 8, what, 13, t.ink);
        p.fillRect(QRectF(bar, y - 5, whole, 10), t.rule);
        p.fillRect(QRectF(bar, y - 5, whole * std::clamp(cure.share, 0.0, 1.0), 10), t.ink);
        paint::text(p, {percent, y}, Qt::AlignLeft, QString::number(std::lround(100 * cure.share)) + " %", 13, t.ink,
                    true);
        study::Cure all = cure; // its amount alone: how much it does stands before it
        all.answer = study::Cure::Answer::Whole;
        paint::text_within(p, {amount, y}, cost - amount - 8,
                           qs(say::answer_of(all, found_->of.setup(), document_.units())), 13, t.soft);
        if (!wide) continue;
        QString worst = cure.dangers.empty() ? QString() : qs(say::words_of(cure.dangers[0]));
        for (const say::CostLine& line :
             say::cost_lines(found_->cures.costs, cure.then, document_.units(), found_->sure_of(static_cast<int>(i))))
            if (line.better < 0 && worst.isEmpty()) worst = qs(line.what) + ": " + qs(line.change);
        paint::text_within(p, {cost, y}, width() - cost - 18, worst.isEmpty() ? tr("costs nothing that shows") : worst,
                           13, worst.isEmpty() ? t.soft : t.caution);
    }
    if (!no.isEmpty())
        paint::text_within(p, {name, row_height_ * (static_cast<double>(helping_.size()) + 0.5)}, width() - 40.0,
                           tr("Do not help: %1").arg(no.join(", ").toLower()), 13, t.soft);
}

CuresPage::CuresPage(Document& document, BalanceSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums), drawing_(new CuresDrawing(document)),
      list_(new WaysList(document)), aim_(new QComboBox), rule_(new QComboBox),
      wanted_(
          new NumberBox(document, {"wanted", "Wanted", units::Quantity::Share, job::Tool::Test, -0.5, 0.5}, 0, 0.005)),
      unit_(new QLabel), note_(new QLabel), put_(new QPushButton(tr("Put it on Trial"))) {
    setObjectName("ground");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    auto* line = new QHBoxLayout;
    line->setContentsMargins(20, 4, 20, 0);
    line->setSpacing(6);
    for (const study::Aim aim : study::all_aims) aim_->addItem(tr(say::words_of(aim).name));
    aim_->setObjectName("aim");
    aim_->setAccessibleName(tr("What is wanted"));
    aim_->setMaxVisibleItems(static_cast<int>(std::size(study::all_aims)));
    wanted_->setFixedWidth(70);
    auto* as_fitted = new QPushButton(tr("as Fitted"));
    as_fitted->setObjectName("wanted as fitted");
    rule_->addItems({tr("anything allowed"), tr("front bar only"), tr("rear bar only"), tr("bars only")});
    rule_->setObjectName("rule");
    rule_->setAccessibleName(tr("What the rules allow"));
    auto* work = new QPushButton(tr("Work out"));
    work->setObjectName("work out cures");
    for (QWidget* w : {static_cast<QWidget*>(aim_), static_cast<QWidget*>(wanted_), static_cast<QWidget*>(unit_),
                       static_cast<QWidget*>(as_fitted), static_cast<QWidget*>(work)})
        line->addWidget(w);
    line->addStretch();
    column->addLayout(line);
    column->addWidget(scrolled(list_), 1);
    auto* take = new QHBoxLayout;
    take->setContentsMargins(20, 0, 20, 4);
    put_->setObjectName("cure on trial");
    put_->setToolTip(tr("The chosen one, with all that it changes; undo takes it back"));
    note_->setObjectName("cure note");
    note_->setWordWrap(true);
    take->addWidget(put_);
    take->addWidget(rule_);
    take->addWidget(note_, 1);
    column->addLayout(take);
    connect(aim_, &QComboBox::activated, this, [this] { ask(); });
    connect(as_fitted, &QPushButton::clicked, this, &CuresPage::want_fitted);
    connect(work, &QPushButton::clicked, this, &CuresPage::work_out);
    connect(put_, &QPushButton::clicked, this, &CuresPage::put_on_trial);
    connect(drawing_, &CuresDrawing::chosen, this, [this](std::size_t card) {
        if (!found_) return;
        found_->chosen = card;
        tell();
    });
    connect(list_, &WaysList::picked, this, [this](int way) {
        if (!found_) return;
        if (found_->shown[1 - found_->chosen] == way) // it is the other one
            found_->chosen = 1 - found_->chosen;
        else
            found_->shown[found_->chosen] = way;
        tell();
    });
    ask();
}

study::Aim CuresPage::aim() const { return study::all_aims[aim_->currentIndex()]; }

void CuresPage::ask() {
    const study::AimScale scale = study::scale_of(aim());
    const units::Unit unit = units::shown(scale.quantity, document_.units());
    wanted_->set_spec({"wanted", "Wanted", scale.quantity, job::Tool::Test, -50 * unit.factor, 50 * unit.factor});
    if (scale.quantity == units::Quantity::Length)
        wanted_->set_spec({"wanted", "Wanted", scale.quantity, job::Tool::Test, 0, 3});
    wanted_->set_value(scale.usual);
    unit_->setText(scale.unit.empty() ? qs(unit.symbol) : qs(scale.unit));
    aim_->setToolTip(tr(say::words_of(aim()).reason));
    forget();
    changed_since_ = false;
    tell();
}

void CuresPage::want(study::Aim aim, double wanted) {
    aim_->setCurrentIndex(static_cast<int>(aim));
    ask();
    wanted_->set_value(units::as_filed(wanted, study::scale_of(aim).quantity));
    work_out();
}

std::optional<double> CuresPage::reading(study::Aim aim, Look look) const {
    const Result& of = document_.computed(look);
    return study::reading(aim, model::to_model(of.vehicle(), of.setup(), of.figures->car, sums_.ground()));
}

void CuresPage::want_fitted() {
    if (const auto value = reading(aim(), Look::Fitted))
        wanted_->set_value(units::as_filed(*value, study::scale_of(aim()).quantity));
}

void CuresPage::work_out() {
    study::Rules rules;
    if (const int rule = rule_->currentIndex(); rule > 0)
        rules = {{rule != 2, rule != 1}, false, false, false, false, false, false};
    rules.people = study::people_aboard(document_.job());
    QStringList beyond;
    const job::Job& job = document_.job();
    const job::Setup& from = document_.computed().setup();
    for (const study::Difference& d : study::not_allowed(rules, job.fitted, from))
        beyond << qs(say::words_of(d, job.vehicle, job.fitted, from, document_.units()).name).toLower();
    const Ground rough = study::bands_of(job.vehicle.use).ground;
    const double speed = job.vehicle.grounds[rough].speed.value;
    note_->setText(beyond.empty() ? tr("Heads and seat on %1 ground at %2, loads as now.")
                                        .arg(tr(name_of(rough)),
                                             qs(units::text(speed, units::Quantity::Speed, document_.units(), 0)))
                                  : tr("Trial has more of its own than that rule allows: %1.").arg(beyond.join(", ")));
    costs_.stop();
    found_.reset();
    working_.start([of = document_.computed(), sets = study::other_tyres(document_.job(), document_.computed().setup()),
                    ground = sums_.ground(), aim = aim(), wanted = wanted_->value(),
                    rules](const Worker::Cancelled& cancelled) {
        return CuresFound{of, ground, aim, sets,
                          study::cures(of.vehicle(), of.setup(), ground, aim, wanted, rules, sets, cancelled)};
    });
    if (!found_) tell();
}

void CuresPage::take_up() {
    found_ = *working_.value();
    // The first two that bring it whole, those that endanger nobody before others; an axle's stands beside the other's.
    std::size_t card = 0;
    for (const auto& [whole, safe] : {std::pair{true, true}, {true, false}, {false, true}, {false, false}})
        for (std::size_t i = 0; i < found_->cures.ways.size() && card < 2; ++i)
            if (const study::Cure& way = found_->cures.ways[i];
                way.helps() && (way.answer == study::Cure::Answer::Whole) == whole && way.dangers.empty() == safe)
                found_->shown[card++] = static_cast<int>(i);
    tell();
}

void CuresPage::forget() {
    if (!working_.started() && !found_) return;
    working_.stop();
    found_.reset();
    changed_since_ = true;
    tell();
}

void CuresPage::finish() {
    working_.finish();
    costs_.finish();
}

/// How much work the two looked at are, and how sure the costs of each way: of those two first.
void CuresPage::ask_costs() {
    if (!found_) return costs_.stop();
    std::vector<std::pair<int, job::Setup>> wanted;
    const auto want = [&](int at) {
        const study::Cure& way = found_->cures.ways[static_cast<std::size_t>(at)];
        if (way.helps() && way.to && !found_->sure.contains(at)) wanted.emplace_back(at, *way.to);
    };
    for (const std::size_t card : {0u, 1u}) {
        const study::Cure* way = found_->way(card);
        if (!way) continue;
        const int at = found_->shown[card];
        if (way->to && !found_->work.contains(at)) {
            QString& work = found_->work[at];
            work = qs(say::work_words(document_.job(), found_->of.setup(), *way->to, document_.shop()));
            const QString sold = qs(say::nearest_sold(*way, document_.job().stock, document_.units()));
            if (!sold.isEmpty()) work = sold + " · " + work;
        }
        want(at);
    }
    for (int at = 0; at < static_cast<int>(found_->cures.ways.size()); ++at)
        if (std::ranges::find(wanted, at, &std::pair<int, job::Setup>::first) == wanted.end()) want(at);
    // Of the cards, since a limit has a kink where the other end gives up first.
    std::vector<std::pair<int, job::Setup>> drawn, looked_at;
    for (const std::size_t card : {0u, 1u})
        if (const study::Cure* way = found_->way(card); way && way->helps() && way->to) {
            const int at = found_->shown[card];
            if (!found_->drawn.contains(at)) drawn.emplace_back(at, *way->to);
            if (!found_->cautions.contains(at)) looked_at.emplace_back(at, *way->to);
        }
    if (wanted.empty() && drawn.empty() && looked_at.empty()) return;
    costs_.start([this, of = found_->of, as_it_is = found_->costs, wanted, drawn, looked_at, system = document_.units(),
                  known = found_->sure](const auto& cancelled, const auto& post) mutable {
        const auto costs = [&](const job::Setup& setup) {
            return sure::answered(of.vehicle(), setup, sure::costs, cancelled);
        };
        if (!looked_at.empty()) {
            const auto before = say::cautions(of.vehicle(), of.setup(), system);
            std::map<int, std::vector<std::string>> cautions;
            for (const auto& [at, to] : looked_at) {
                auto& own = cautions[at] = say::cautions(of.vehicle(), to, system);
                std::erase_if(own, [&](const std::string& caution) {
                    return std::ranges::find(before, caution) != before.end();
                });
            }
            post([this, cautions] {
                if (!found_) return;
                for (const auto& [at, words] : cautions) found_->cautions[at] = words;
                drawing_->update();
            });
        }
        const auto now = as_it_is ? as_it_is : std::make_shared<const sure::Answered>(costs(of.setup()));
        for (const auto& [at, to] : wanted) {
            if (cancelled()) return;
            const auto sure = sure::changes(of.setup(), *now, to, costs(to));
            if (cancelled()) return;
            known[at] = sure;
            post([this, now, at = at, sure] {
                if (!found_) return;
                found_->costs = now;
                found_->sure[at] = sure;
                drawing_->update();
                list_->update();
            });
        }
        for (const auto& [at, to] : drawn) {
            auto sure = known[at];
            const auto draw = [&, &to = to](sure::CostAnswer cost, const sure::Question& question) {
                if (!cancelled() && !sure.empty())
                    sure[cost] = sure::with_draws({sure[cost]},
                                                  sure::draw_change({of.vehicle(), of.setup()}, {of.vehicle(), to},
                                                                    question, sure::draws_for_many, sure::draws_seed,
                                                                    [&](int) { return !cancelled(); })
                                                      .change)[0];
            };
            draw(sure::CostDry, sure::limit(Ground::Dry));
            draw(sure::CostWet, sure::limit(Ground::Wet));
            draw(sure::CostRamps, sure::reach({}));
            if (cancelled()) return;
            post([this, at = at, sure] {
                if (!found_) return;
                found_->drawn.insert(at);
                found_->sure[at] = sure;
                drawing_->update();
                list_->update();
            });
        }
    });
}

void CuresPage::tell() {
    put_->setEnabled(found_ && found_->way(found_->chosen));
    const bool as_it_is = found_ && !found_->cures.ways.empty() &&
                          found_->cures.ways.front().answer == study::Cure::Answer::AsItIs,
               unread = found_ && !found_->cures.ways.empty() &&
                        found_->cures.ways.front().answer == study::Cure::Answer::NoReading;
    drawing_->show_cures(
        found_ ? &*found_ : nullptr,
        as_it_is ? tr("The car has that as it is: nothing is to be changed.")
        : unread ? tr("The car has no such reading here: it tips, no wheel lifts, or 0.3 g is more than it holds.")
        : found_ ? tr("Nothing that may be changed brings the car nearer to it.")
        : working_.started() ? tr("Being worked out …")
        : changed_since_     ? tr("The car or its ground has changed since: work out again.")
                         : tr("Choose below what is wanted and work it out: each change that would do it comes as a "
                              "whole setup, with "
                              "what it costs."));
    list_->show_ways(found_ ? &*found_ : nullptr);
    ask_costs();
}

void CuresPage::put_on_trial() {
    const study::Cure* way = found_ ? found_->way(found_->chosen) : nullptr;
    if (!way) return;
    const QString what = list_->words(found_->shown[found_->chosen]);
    if (!way->to) {
        if (way->lever == study::Cure::Lever::NewBar)
            note_->setText(tr("Fit a bar there (Bar, Front or Rear) that has %1.")
                               .arg(qs(say::answer_of(*way, found_->of.setup(), document_.units()))));
        else
            emit field_wanted(qs(way->path())); // where a load stands is the car's own
        return;
    }
    const job::Setup base = found_->of.setup(), to = *way->to;
    document_.set_look(Look::Trial);
    document_.edit(tr("%1 on Trial").arg(what), {}, [&](job::Job& job) {
        for (const study::Difference& d : study::differences(base, to)) job.trial = study::with(job.trial, to, d);
    });
    note_->setText(tr("On Trial: %1.").arg(what));
}

} // namespace dervish::app
