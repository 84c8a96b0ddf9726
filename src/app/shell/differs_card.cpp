#include "app/shell/differs_card.h"

#include "app/shell/theme.h"
#include "app/words.h"
#include "core/say/difference_words.h"
#include "core/sure/draws.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace dervish::app {
namespace {
constexpr int what_wide = 170; // px: the whole card is to stand on a screen of 1024

struct Column {
    QString words;
    std::size_t figure;
    double unit;
    int decimals;
    QString symbol;
};

std::vector<Column> columns_of(units::System system) {
    const units::Unit length = units::shown(units::Quantity::Length, system);
    const QString symbol = qs(length.symbol);
    const int decimals = system == units::System::Metric ? 0 : 2;
    return {{QObject::tr("roll"), study::RollGradient, units::deg / units::g, 2, "°/g"},
            {QObject::tr("front share"), study::FrontShare, 0.01, 1, "%"},
            {QObject::tr("limit"), sure::ComparedLimit, units::g, 3, "g"},
            {QObject::tr("heads tossed"), sure::ComparedHeads, 1, 2, "m/s²"},
            {QObject::tr("lifts at"), study::LiftHeight, length.factor, decimals, symbol},
            {QObject::tr("flex front"), study::FrontTravel, length.factor, decimals, symbol},
            {QObject::tr("flex rear"), study::RearTravel, length.factor, decimals, symbol},
            {QObject::tr("link margin"), study::LinkMargin, units::deg, 1, "°"}};
}

QLabel* label(const QString& text, int size = 13, bool bold = false, bool soft = false) {
    auto* out = new QLabel(text);
    out->setFont(face(size, bold));
    out->setStyleSheet(QString("font-size: %1px; %2 %3")
                           .arg(size)
                           .arg(bold ? "font-weight: bold;" : "", soft ? "color: " + theme().soft.name() : ""));
    return out;
}

/// "+0.12" with a minus sign that lines up; a nought without either.
QString signed_text(double value, int decimals) {
    const QString text = qs(units::fixed(std::abs(value), decimals));
    if (text.count('0') + text.count('.') == text.size()) return text;
    return (value < 0 ? QString::fromUtf8("−") : "+") + text;
}
} // namespace

DiffersCard::DiffersCard(Document& document, QWidget* parent)
    : QDialog(parent), document_(document), state_(label({}, 13, false, true)), later_(this, [this] { ask(); }),
      sums_([this] { fill(); }) {
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName("differs card");
    setWindowTitle(tr("What differs: Trial against Fitted"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(22, 18, 22, 18);
    column->setSpacing(10);
    state_->setObjectName("differs state");
    state_->setWordWrap(true);
    column->addWidget(state_);
    state_->setFixedWidth(920);
    column->setSizeConstraint(QLayout::SetFixedSize); // as large as what it tells
    connect(&document_, &Document::changed, this, [this] {
        sums_.stop();
        later_.start();
    });
    ask();
}

void DiffersCard::ask() {
    const job::Job& job = document_.job();
    differences_ = study::differences(job.fitted, job.trial);
    if (differences_.empty()) {
        sums_.stop();
        delete std::exchange(table_, nullptr);
        state_->setText(
            tr("Nothing: Trial is as Fitted. Change a field while Trial is looked at, or take a part of the "
               "shelf, and what it does stands here."));
        return;
    }
    state_->setText(tr("Being worked out …"));
    sums_.start([vehicle = job.vehicle, fitted = job.fitted, trial = job.trial,
                 differences = differences_](const auto& cancelled) {
        const auto go_on = [&](int) { return !cancelled(); };
        const auto edge_of = [&](const job::Setup& setup) {
            return sure::goes_over(vehicle, setup, Ground::Dry, sure::draws_for_shares, go_on);
        };
        Sums out{sure::figures_of(vehicle, fitted, cancelled), edge_of(fitted), {}};
        const auto add = [&](const job::Setup& setup, int draws) {
            Row row{};
            try {
                const sure::Figures with = sure::figures_of(vehicle, setup, cancelled);
                row.change = sure::drawn_changes(vehicle, fitted, out.fitted, setup, with, draws, go_on);
                row.edge = edge_of(setup);
            } catch (const BadInput& e) {
                row.problem = qs(e.problem());
            }
            out.rows.push_back(std::move(row));
        };
        for (const study::Difference& d : differences)
            if (!cancelled()) add(study::with(fitted, trial, d), sure::draws_for_many);
        if (!cancelled()) add(trial, sure::draws_for_sides);
        return out;
    });
}

void DiffersCard::fill() {
    const Sums& sums = *sums_.value();
    if (sums.rows.size() != differences_.size() + 1) return; // of a job that is no more
    delete std::exchange(table_, new QWidget);
    auto* grid = new QGridLayout(table_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(3);
    const job::Job& job = document_.job();
    const std::vector<Column> columns = columns_of(document_.units());
    int line = 0;
    for (std::size_t c = 0; c < columns.size(); ++c) {
        auto* head = label(columns[c].words + "\n" + columns[c].symbol, 13, false, true);
        head->setAlignment(Qt::AlignRight | Qt::AlignBottom);
        grid->addWidget(head, line, static_cast<int>(c) + 1);
    }
    const int edge_column = static_cast<int>(columns.size()) + 1, last_column = edge_column + 1;
    auto* head = label(tr("lets go,\nof 100 such cars"), 13, false, true);
    head->setAlignment(Qt::AlignRight | Qt::AlignBottom);
    grid->addWidget(head, line, edge_column);
    ++line;
    const auto edge = [&](const Row& row) {
        const auto change = [](const QString& words, double was, double is) {
            const auto of_100 = [](double share) { return QString::number(std::lround(100 * share)); };
            return words.arg(of_100(was), of_100(is));
        };
        const bool known = std::isfinite(sums.edge.front) && std::isfinite(row.edge.front);
        auto* cell = label(known ? change(tr("front first %1 → %2"), sums.edge.front, row.edge.front) + "\n" +
                                       change(tr("suddenly %1 → %2"), sums.edge.sudden, row.edge.sudden)
                                 : tr("tips over"),
                           13);
        cell->setAlignment(Qt::AlignRight | Qt::AlignTop);
        grid->addWidget(cell, line, edge_column);
    };
    const auto put = [&](std::size_t column, const QString& text, sure::Sure sure) {
        auto* cell = label(text, 14, sure == sure::Sure::Surely, sure == sure::Sure::CannotSay);
        cell->setAlignment(Qt::AlignRight | Qt::AlignTop);
        grid->addWidget(cell, line, static_cast<int>(column) + 1);
    };
    const auto effect = [&](const Row& row, const Column& of) { return row.change[of.figure].by / of.unit; };
    const auto numbers = [&](const Row& row, bool band) {
        for (std::size_t c = 0; c < columns.size(); ++c) {
            const Column& of = columns[c];
            const double change = effect(row, of), half = row.change[of.figure].half() / of.unit;
            if (!std::isfinite(change)) {
                put(c, QString::fromUtf8("–"), sure::Sure::CannotSay);
                continue;
            }
            QString text = signed_text(change, of.decimals);
            if (band && half > 0) text += "\n± " + qs(units::fixed(half, of.decimals));
            const bool none = signed_text(change, of.decimals).at(0).isDigit();
            put(c, text, none ? sure::Sure::CannotSay : sure::how_sure(row.change[of.figure]));
        }
    };
    for (std::size_t i = 0; i < differences_.size(); ++i) {
        const say::DifferenceWords words =
            say::words_of(differences_[i], job.vehicle, job.fitted, job.trial, document_.units());
        auto* what =
            label(QString("<b style='font-size: 14px'>%1</b><br><span style='color: %2'>%3</span>")
                      .arg(qs(words.name).toHtmlEscaped(), theme().soft.name(), qs(words.detail).toHtmlEscaped()),
                  12);
        what->setWordWrap(true);
        what->setFixedWidth(what_wide);
        what->setObjectName("difference");
        what->setAlignment(Qt::AlignTop);
        grid->addWidget(what, line, 0);
        if (!sums.rows[i].change.empty())
            numbers(sums.rows[i], false), edge(sums.rows[i]);
        else
            grid->addWidget(label(tr("cannot stand alone: %1").arg(sums.rows[i].problem), 13, false, true), line, 1, 1,
                            edge_column);
        auto* back = new QPushButton(tr("Take back"));
        back->setObjectName("take back " + QString::number(i));
        back->setAccessibleName(tr("Take back: %1").arg(qs(words.name)));
        connect(back, &QPushButton::clicked, this, [this, d = differences_[i]] { take_back(d); });
        grid->addWidget(back, line++, last_column, Qt::AlignTop);
    }
    const Row& all = sums.rows.back();
    if (differences_.size() > 1) {
        grid->addWidget(label(tr("Each alone, added up"), 13, false, true), line, 0);
        for (std::size_t c = 0; c < columns.size(); ++c) {
            double sum = 0;
            for (std::size_t i = 0; i < differences_.size(); ++i)
                sum += !sums.rows[i].change.empty() ? effect(sums.rows[i], columns[c]) : std::nan("");
            put(c, std::isfinite(sum) ? signed_text(sum, columns[c].decimals) : QString::fromUtf8("–"),
                sure::Sure::CannotSay);
        }
        ++line;
    }
    grid->addWidget(label(tr("All together"), 14, true), line, 0, Qt::AlignTop);
    if (!all.change.empty()) numbers(all, true), edge(all);
    grid->setColumnStretch(0, 1);
    state_->setText(tr(
        "What each does to Fitted alone, and all of them together with the band of the difference: what both "
        "setups share is off in both alike. Bold: surely so. Plain: probably. Grey: cannot say, within what "
        "is not known. Of cars drawn within that: how many go at the front first and how many let go suddenly, before "
        "and after. Effects do not add up: each part acts through the others."));
    layout()->addWidget(table_);
    for (QLabel* what : table_->findChildren<QLabel*>("difference")) {
        what->ensurePolished();
        what->setFixedHeight(what->heightForWidth(what_wide) + 4);
    }
}

void DiffersCard::take_back(const study::Difference& difference) {
    document_.edit(tr("taken back: %1")
                       .arg(qs(say::words_of(difference, document_.job().vehicle, document_.job().fitted,
                                             document_.job().trial, document_.units())
                                   .name)),
                   {}, [&](job::Job& job) { job.trial = study::with(job.trial, job.fitted, difference); });
}

void DiffersCard::finish() {
    if (later_.isActive()) {
        later_.stop();
        ask();
    }
    sums_.finish();
}

void show_differences(QWidget* parent, Document& document) {
    if (auto* there = parent->findChild<DiffersCard*>("differs card")) {
        there->raise();
        return there->activateWindow();
    }
    (new DiffersCard(document, parent))->show();
}

} // namespace dervish::app
