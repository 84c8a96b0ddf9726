#include "app/bar/rig_reading.h"
#include "core/proof/verdict.h"

#include "app/paint/axes.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/widgets/number_table.h"
#include "app/words.h"
#include "core/edit/readings.h"
#include "core/job/fields.h"
#include "core/say/proof_words.h"

#include <QCheckBox>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
constexpr int left_width = 268;

using edit::rig_specs;
} // namespace

RigReading::RigReading(Document& document, QWidget* parent)
    : QWidget(parent), document_(document),
      table_(new NumberTable(document, "rig readings", tr("Masses and dial readings"),
                             [](int, int column) { return edit::rig_specs[column]; })),
      both_(new QCheckBox(tr("Both arms pulled apart"))), blocks_(new QCheckBox(tr("In rigid blocks, not its mounts"))),
      problem_(new QLabel) {
    setObjectName("rig reading");
    setAccessibleName(tr("Rate check on the bench"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(20, 4, 0, 4);
    auto* left = new QVBoxLayout;
    left->setSpacing(2);
    both_->setObjectName("both arms");
    blocks_->setObjectName("rigid blocks");
    left->addWidget(both_);
    left->addWidget(blocks_);
    table_->setColumnCount(2);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(24);
    left->addWidget(table_, 1);
    problem_->setWordWrap(true);
    problem_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    left->addWidget(problem_);
    auto* box = new QWidget;
    box->setFixedWidth(left_width);
    left->setContentsMargins(0, 0, 0, 0);
    box->setLayout(left);
    row->addWidget(box);
    row->addStretch();
    connect(both_, &QCheckBox::clicked, this,
            [this](bool on) { edit_rig(tr("arms loaded"), [on](job::RigCheck& r) { r.both_arms = on; }); });
    connect(blocks_, &QCheckBox::clicked, this,
            [this](bool on) { edit_rig(tr("what holds the bar"), [on](job::RigCheck& r) { r.blocks = on; }); });
    connect(table_, &NumberTable::typed, this, &RigReading::type_cell);
    new Follow(document_, this, [this] { refresh(); });
}

void RigReading::show_axle(End end) {
    end_ = end;
    refresh();
}

const job::AxleSetup& RigReading::assembly() const {
    const job::Setup& s = document_.looked_setup();
    return s[end_];
}

void RigReading::edit_rig(const QString& what, const std::function<void(job::RigCheck&)>& change) {
    document_.edit(what, {}, [&](job::Job& job) {
        job::Setup& s = document_.look() == Look::Trial ? job.trial : job.fitted; // readings of the bar itself
        change(job::rig_for(job, s[end_]));
    });
}

std::string RigReading::draft(int row, int column) const {
    return edit::rig_key(document_.look() == Look::Trial, end_, row, column);
}

void RigReading::refresh() {
    const job::RigCheck& rig = job::rig_of(document_.job(), assembly());
    both_->setChecked(rig.both_arms);
    blocks_->setChecked(rig.blocks);
    const auto count = static_cast<int>(rig.readings.size());
    const QStringList heads{with_unit(tr("hung on"), rig_specs[0].quantity, document_.units()),
                            with_unit(tr("dial down"), rig_specs[1].quantity, document_.units())};
    const auto problem = table_->show_cells(count + 1, heads, true, [&](int row, int column) { // the last row waits
        std::optional<double> kept;
        if (row < count) {
            const job::RigReading& r = rig.readings[static_cast<std::size_t>(row)];
            kept = column == 0 ? r.mass : r.dial;
        }
        return reading_cell(document_, draft(row, column), rig_specs[column], kept, tr("Give the mass first."));
    });
    problem_->setText(problem.words);
    problem_->setVisible(!problem.words.isEmpty());
    work_out();
}

void RigReading::type_cell(int row, int column, const QString& text) {
    const edit::Entry entry{text.toStdString(), document_.units()};
    document_.edit(tr("reading on the bench"), "cell " + qs(draft(row, column)), [&](job::Job& job) {
        edit::type_rig_reading(job, document_.look() == Look::Trial, end_, row, column, entry);
    });
}

void RigReading::showEvent(QShowEvent*) { work_out(); }

void RigReading::work_out() {
    update();
    if (!isVisible()) return;
    const job::AxleSetup& a = assembly();
    const job::RigCheck& rig = job::rig_of(document_.job(), a);
    if (of_ == a && read_ == rig && in_ == document_.units()) return;
    of_ = a;
    read_ = rig;
    in_ = document_.units();
    verdict_.reset();
    expected_.clear();
    try {
        double most = 40;
        for (const job::RigReading& r : rig.readings) most = std::max(most, r.mass);
        for (int i = 0; i <= 8; ++i) expected_.emplace_back(most * i / 8, proof::rig_dial(a, rig, most * i / 8));
        verdict_ = proof::judge(a, rig);
    } catch (const BadInput&) { // told at its field
        expected_.clear();
    }
}

QString RigReading::verdict() const {
    if (!verdict_) return tr("Hang at least two masses on and read the dial for each.");
    return verdict_->agreement == proof::Agreement::Agrees     ? tr("The bench agrees with the sum")
           : verdict_->agreement == proof::Agreement::Doubtful ? tr("Doubtful")
                                                               : tr("The bench disagrees with the sum");
}

void RigReading::paint_chart(QPainter& p, const QRectF& room) {
    const Theme& t = theme();
    const job::RigCheck& rig = job::rig_of(document_.job(), assembly());
    double most = 1e-3;
    for (const auto& [mass, dial] : expected_)
        if (std::isfinite(dial)) most = std::max(most, dial);
    for (const job::RigReading& r : rig.readings) most = std::max(most, r.dial);
    const double heavy = expected_.back().first;
    const paint::Axes at(room, {0, heavy}, {0, most});
    const units::Unit kg = units::shown(units::Quantity::Mass, document_.units()),
                      mm = units::shown(units::Quantity::Length, document_.units());
    at.sides(p);
    for (const double part : {0.5, 1.0}) {
        at.under(p, part * heavy, qs(units::trimmed(part * heavy / kg.factor, 0)), 11);
        at.beside(p, part * most, qs(units::fixed(part * most / mm.factor, mm.decimals)));
    }
    QPolygonF line;
    for (const auto& [mass, dial] : expected_)
        if (std::isfinite(dial)) line << at(mass, dial);
    p.setPen(QPen(axle_colour(end_), 2.2));
    p.drawPolyline(line);
    const double zero = verdict_ ? verdict_->fit.offset : 0; // a dial set anywhere is set back
    for (const job::RigReading& r : rig.readings) {
        p.setPen(QPen(t.ink, 1.4));
        p.setBrush(t.panel);
        p.drawEllipse(at(r.mass, r.dial - zero), 4, 4);
    }
    paint::text(p, {room.right(), room.bottom() + 26}, Qt::AlignRight,
                tr("hung on, %1; dial, %2; line: by the sum").arg(qs(kg.symbol), qs(mm.symbol)), 13, t.soft);
}

void RigReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    const Theme& t = theme();
    const double left = left_width + 44;
    if (expected_.empty()) {
        paint::text_within(p, {left, 20}, width() - left - 16,
                           assembly().held == job::Held::Clamped ? tr("A clamped bar cannot stand in this rig.")
                                                                 : tr("The bar's own numbers come first."),
                           13, t.soft);
        return;
    }
    const double words = std::min(290.0, 0.5 * (width() - left));
    paint_chart(p, QRectF(left + 36, 14, width() - left - 36 - words - 40, height() - 14 - 38));
    const QRectF room(width() - words - 16, 6, words, height() - 10);
    double y = room.top() + 8;
    const bool bad = verdict_ && verdict_->agreement == proof::Agreement::Disagrees;
    p.setFont(face(14, true));
    p.setPen(bad ? t.caution : t.ink);
    const QRectF head = p.boundingRect(QRectF(room.left(), y - 8, words, 60), Qt::TextWordWrap, verdict());
    p.drawText(head, Qt::TextWordWrap, verdict());
    y = head.bottom() + 12;
    if (!verdict_) {
        p.setFont(face(13));
        p.setPen(t.soft);
        p.drawText(QRectF(room.left(), y - 6, words, 90), Qt::TextWordWrap,
                   tr("Links off, bar in its mounts or in blocks. One arm held at its eye, masses hung from the other "
                      "eye, the dial "
                      "on it. A hung mass can fall: keep hands and feet from under it."));
        return;
    }
    const bool narrow = words < 220; // what and its figure below each other
    const auto row = [&](const QString& what, double rate, double band) {
        if (narrow) {
            paint::text_within(p, {room.left(), y}, words, what, 13, t.soft);
            y += 16;
        }
        const units::Unit unit = units::shown(units::Quantity::Rate, document_.units());
        const QRectF figure =
            paint::text(p, {room.right(), y}, Qt::AlignRight,
                        qs(units::fixed(rate / unit.factor, unit.decimals)) + " ± " +
                            qs(units::fixed(band / unit.factor, unit.decimals)) + " " + qs(unit.symbol),
                        13, t.ink, true);
        if (!narrow) paint::text_within(p, {room.left(), y}, figure.left() - room.left() - 8, what, 13, t.soft);
        y += 20;
    };
    row(read_.both_arms ? tr("read, roll mode") : tr("read, one arm held"), verdict_->fit.rate,
        verdict_->fit.interval_90);
    row(tr("by the sum"), verdict_->predicted, band_90 * verdict_->predicted_sigma);
    if (verdict_->suspects.empty()) return;
    y += 4;
    paint::text(p, {room.left(), y}, Qt::AlignLeft, tr("It would be explained if"), 13, t.soft);
    y += 18;
    for (const proof::Suspect& s : verdict_->suspects) {
        if (y > room.bottom() - 4) break;
        const QString odds = std::isfinite(s.sigmas) ? QString::number(s.sigmas, 'f', 1) + " σ" : QString("?");
        const QRectF figure = paint::text(p, {room.right(), y}, Qt::AlignRight, odds, 13, t.soft);
        paint::text_within(p, {room.left(), y}, figure.left() - room.left() - 6,
                           qs(say::words_of(s, read_.both_arms, document_.units())), 13, t.ink);
        y += 18;
    }
}

} // namespace dervish::app
