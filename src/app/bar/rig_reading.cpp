#include "app/bar/rig_reading.h"
#include "core/proof/verdict.h"

#include "app/paint/axes.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/widgets/number_edit.h"
#include "app/words.h"
#include "core/edit/readings.h"
#include "core/job/fields.h"
#include "core/say/proof_words.h"

#include <QCheckBox>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
constexpr int left_width = 268;

using edit::rig_specs;
} // namespace

RigReading::RigReading(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), table_(new QTableWidget),
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
    table_->setObjectName("rig readings");
    table_->setAccessibleName(tr("Masses and dial readings"));
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
    table_->setItemDelegate(new NumberDelegate(
        document_, [](int, int column) { return rig_specs[column]; }, [](int) { return false; }, table_));
    connect(table_, &QTableWidget::cellChanged, this, &RigReading::type_cell);
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
    filling_ = true;
    const job::RigCheck& rig = job::rig_of(document_.job(), assembly());
    both_->setChecked(rig.both_arms);
    blocks_->setChecked(rig.blocks);
    const auto unit = [&](const job::FieldSpec& s) {
        return QString::fromUtf8(units::shown(s.quantity, document_.units()).symbol.data());
    };
    table_->setHorizontalHeaderLabels(
        {tr("hung on, %1").arg(unit(rig_specs[0])), tr("dial down, %1").arg(unit(rig_specs[1]))});
    table_->setRowCount(static_cast<int>(rig.readings.size()) + 1); // the last row waits
    QString problem;
    for (int row = 0; row < table_->rowCount(); ++row)
        for (int column = 0; column < 2; ++column) {
            const auto waits = document_.draft(draft(row, column), rig_specs[column].quantity);
            const bool bad = waits.has_value();
            QString text;
            if (bad) {
                text = *waits;
                try {
                    job::parse(text.toStdString(), rig_specs[column], document_.units(), "reading");
                    if (column == 1) problem = tr("Give the mass first.");
                } catch (const BadInput& e) {
                    problem = qs(e.problem() + "; " + e.accepted());
                }
            } else if (row < static_cast<int>(rig.readings.size())) {
                const job::RigReading& r = rig.readings[static_cast<std::size_t>(row)];
                text = qs(job::show(column == 0 ? r.mass : r.dial, rig_specs[column], document_.units()));
            }
            QTableWidgetItem* item = table_->item(row, column);
            if (!item) table_->setItem(row, column, item = new QTableWidgetItem);
            if (item->text() != text) item->setText(text);
            item->setForeground(bad ? theme().caution : theme().ink);
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        }
    problem_->setText(problem);
    problem_->setVisible(!problem.isEmpty());
    filling_ = false;
    work_out();
}

void RigReading::type_cell(int row, int column) {
    if (filling_) return;
    const edit::Entry entry{table_->item(row, column)->text().trimmed().toStdString(), document_.units()};
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
                tr("hung on, %1; dial, %2; line: by the sum")
                    .arg(QString::fromUtf8(kg.symbol.data()), QString::fromUtf8(mm.symbol.data())),
                13, t.soft);
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
        const QRectF figure = paint::text(p, {room.right(), y}, Qt::AlignRight,
                                          qs(units::fixed(rate / unit.factor, unit.decimals)) + " ± " +
                                              qs(units::fixed(band / unit.factor, unit.decimals)) + " " +
                                              QString::fromUtf8(unit.symbol.data()),
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
