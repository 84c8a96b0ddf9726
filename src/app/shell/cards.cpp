#include "app/shell/cards.h"
#include "core/edit/book.h"
#include "core/job/fields.h"

#include "app/shell/theme.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/number_edit.h"
#include "app/words.h"
#include "core/say/cautions.h"
#include "core/say/difference_words.h"
#include "core/study/difference.h"

#include <QCheckBox>
#include <QDate>
#include <QDialog>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace dervish::app {
namespace {
QLabel* words(const QString& text, int pixels = 13, bool soft = false, bool bold = false) {
    auto* out = new QLabel(text);
    out->setWordWrap(true);
    out->setFont(face(pixels, bold));
    out->setStyleSheet(QString("font-size: %1px; %2 %3")
                           .arg(pixels)
                           .arg(bold ? "font-weight: bold;" : "", soft ? "color: " + theme().soft.name() : ""));
    return out;
}
} // namespace

void show_working(QWidget* parent, const Document& document, say::Figure figure) {
    const say::Working w = say::working(document.computed().vehicle(), document.computed().setup(), document.looked(),
                                        figure, document.units());
    auto* card = new QDialog(parent);
    card->setAttribute(Qt::WA_DeleteOnClose);
    card->setObjectName("working");
    card->setWindowTitle(QObject::tr("Working: %1").arg(qs(w.figure)));
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(22, 18, 22, 18);
    column->addWidget(
        words(qs(w.figure) + ", " + (document.look() == Look::Trial ? QObject::tr("Trial") : QObject::tr("Fitted")), 14,
              true));
    column->addWidget(words(qs(w.result), 28, false, true));
    column->addWidget(words(qs(w.formula), 13));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(20);
    grid->setVerticalSpacing(3);
    for (int i = 0; i < static_cast<int>(w.lines.size()); ++i) {
        const say::WorkingLine& line = w.lines[static_cast<std::size_t>(i)];
        auto* what = words(qs(line.what));
        what->setWordWrap(false);
        grid->addWidget(what, i, 0);
        auto* value = words(qs(line.value), 13, false, true);
        value->setAlignment(Qt::AlignRight);
        value->setWordWrap(false);
        grid->addWidget(value, i, 1);
        grid->addWidget(words(qs(line.from), 13, true), i, 2);
    }
    grid->setColumnStretch(2, 1);
    column->addLayout(grid);
    column->addWidget(words(qs(w.remark)));
    column->addWidget(words(QObject::tr("Source: %1").arg(qs(w.source)), 13, true));
    card->setMinimumWidth(640);
    card->show();
}

void show_keys(QWidget* parent, const QStringList& stations) {
    auto* card = new QDialog(parent);
    card->setAttribute(Qt::WA_DeleteOnClose);
    card->setObjectName("keys");
    card->setWindowTitle(QObject::tr("Keys"));
    auto* grid = new QGridLayout(card);
    grid->setContentsMargins(22, 18, 22, 18);
    grid->setHorizontalSpacing(24);
    const std::pair<QString, QString> keys[] = {
        {QString("1 … %1").arg(stations.size()),
         QObject::tr("%1 (with Alt while a field has the caret)").arg(stations.join(", "))},
        {"Enter", "into the fields, and on to the next one; with Shift back"},
        {"Page Down, Page Up", "the next part of the panel"},
        {"F2, Shift+F2", "the field's next source; every source and spread"},
        {"Ctrl+M", "measuring: what is typed counts as measured"},
        {"Esc", "out of a field"},
        {"[  ]", "step the roll, the travel or the bend"},
        {"Space", "play it"},
        {"T", "look at Trial or Fitted"},
        {"D", "what differs between them, and what each difference does"},
        {"W", "working of the tally figure pointed at"},
        {"M", "measure next"},
        {"/", "find a field or an action"},
        {"Ctrl+Z, Ctrl+Shift+Z", "undo, redo"},
        {"Ctrl+S, Ctrl+O, Ctrl+N", "save, open, new"},
        {"Tab, arrows", "through everything, in reading order"},
        {"?", "this card"}};
    int row = 0;
    for (const auto& [key, what] : keys) {
        grid->addWidget(words(key, 14, false, true), row, 0);
        grid->addWidget(words(what), row++, 1);
    }
    card->show();
}

bool ask_fit_sheet(QWidget* parent, const Document& document, bool found_so, FitSheet& sheet) {
    QDialog card(parent);
    card.setObjectName("fit sheet");
    card.setWindowTitle(found_so ? QObject::tr("Found so") : QObject::tr("Fit it"));
    auto* column = new QVBoxLayout(&card);
    column->setContentsMargins(22, 18, 22, 18);
    column->addWidget(
        words(found_so ? QObject::tr("The car was found to be as Trial says. Fitted takes Trial's numbers.")
                       : QObject::tr("“%1” goes on the car and becomes Fitted.").arg(qs(document.job().trial.name)),
              14, false, true));
    if (!found_so)
        column->addWidget(caution(
            QObject::tr("Before a bar comes off or goes on"),
            QObject::tr("Firm ground, wheels chocked, on stands, never under a car on a jack. A bar under twist holds "
                        "energy: loosen both links with both "
                        "wheels at equal height. Final tightening at ride height, to the vehicle maker's torque "
                        "figures. Check full lock, full bump and full "
                        "droop for clearance. Local rules and a licensed professional decide what is allowed.")));
    const job::Job& job = document.job();
    // What the sums know to be dangerous is asked about, not only told.
    QCheckBox* seen = nullptr;
    if (const auto dangers = say::cautions(job.vehicle, job.trial, document.units()); !dangers.empty()) {
        QStringList lines;
        for (const std::string& danger : dangers) lines << qs(danger);
        column->addWidget(caution(QObject::tr("By the sums, with this on the car"), lines.join("\n")));
        seen = new QCheckBox(QObject::tr("I have seen this and fit it all the same"));
        seen->setObjectName("seen");
        seen->setVisible(!found_so);
        column->addWidget(seen);
    }
    QString changes;
    for (const study::Difference& d : study::differences(job.fitted, job.trial)) {
        const say::DifferenceWords told = say::words_of(d, job.vehicle, job.fitted, job.trial, document.units());
        changes += "<p style='margin: 2px 0'><b>" + qs(told.name).toHtmlEscaped() + "</b> " +
                   qs(told.detail).toHtmlEscaped() + "</p>";
    }
    auto* list = words(changes, 13);
    list->setObjectName("what changes");
    list->setTextFormat(Qt::RichText);
    auto* scroll = new QScrollArea;
    scroll->setWidget(list);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFixedHeight(std::clamp(list->heightForWidth(500) + 8, 24, 170));
    column->addWidget(scroll);
    card.setMinimumWidth(560);
    const units::Unit unit = units::shown(units::Quantity::Distance, document.units());
    auto* grid = new QGridLayout;
    const job::FieldSpec& clock = edit::clock_spec();
    auto* odometer = new NumberEdit(document, clock);
    odometer->setObjectName("odometer");
    auto* date = new QLineEdit(QDate::currentDate().toString(Qt::ISODate));
    date->setObjectName("date");
    auto* reason = new QPlainTextEdit;
    reason->setObjectName("reason");
    reason->setFixedHeight(70);
    grid->addWidget(new QLabel(QObject::tr("On the clock, %1").arg(qs(unit.symbol))), 0, 0);
    grid->addWidget(odometer, 0, 1);
    grid->addWidget(new QLabel(QObject::tr("Date")), 1, 0);
    grid->addWidget(date, 1, 1);
    grid->addWidget(new QLabel(QObject::tr("Why")), 2, 0, Qt::AlignTop);
    grid->addWidget(reason, 2, 1);
    column->addLayout(grid);
    auto* measured = new QCheckBox(QObject::tr("What changes was measured on the car, not only planned"));
    measured->setObjectName("measured");
    column->addWidget(measured);
    auto* error = words({}, 13);
    error->setObjectName("sheet error");
    error->setStyleSheet("color: " + theme().caution.name());
    column->addWidget(error);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    auto* accept = buttons->addButton(found_so ? QObject::tr("Found so") : QObject::tr("Fitted now"),
                                      QDialogButtonBox::AcceptRole);
    accept->setObjectName("accept fit");
    column->addWidget(buttons);
    QObject::connect(buttons, &QDialogButtonBox::rejected, &card, &QDialog::reject);
    QObject::connect(buttons, &QDialogButtonBox::accepted, &card, [&] {
        double typed = 0;
        try {
            typed = job::parse(odometer->text().toStdString(), clock, document.units(), clock.key);
        } catch (const BadInput& e) {
            error->setText(qs(e.problem() + "; " + e.accepted()));
            return;
        }
        if (!QDate::fromString(date->text(), Qt::ISODate).isValid())
            error->setText(
                QObject::tr("Date: “%1” is not a date; write year-month-day, such as 2031-05-11").arg(date->text()));
        else if (reason->toPlainText().trimmed().isEmpty())
            error->setText(QObject::tr("Why: the field is empty; a few words will do, you will want them in a year"));
        else if (seen && !found_so && !seen->isChecked())
            error->setText(QObject::tr("What the sums say is dangerous stands above: tick that you have seen it"));
        else {
            sheet = {typed, date->text(), reason->toPlainText().trimmed(), measured->isChecked()};
            card.accept();
        }
    });
    // Wrapped lines are as high as the card is wide.
    card.resize(600, std::max(card.sizeHint().height(), column->totalHeightForWidth(600)));
    return card.exec() == QDialog::Accepted;
}

} // namespace dervish::app
