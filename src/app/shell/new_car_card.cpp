#include "app/shell/new_car_card.h"

#include "app/car/car_drawing.h"
#include "app/document.h"
#include "app/shell/theme.h"
#include "app/words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace dervish::app {

void ask_new_car(QWidget* parent, Document& document) {
    auto* card = new QDialog(parent);
    card->setAttribute(Qt::WA_DeleteOnClose);
    card->setObjectName("new car");
    card->setWindowTitle(QObject::tr("A new car"));
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(22, 18, 22, 18);
    auto* what = new QLabel(
        QObject::tr("Every number begins as a guess of its kind of car, marked as assumed. What you type describes the "
                    "car as it is, Fitted, until something is tried."));
    what->setWordWrap(true);
    column->addWidget(what);
    auto* grid = new QGridLayout;
    grid->setColumnStretch(1, 1);
    int row = 0;
    const auto line = [&](const QString& words, QWidget* widget, const char* name) {
        widget->setObjectName(name);
        widget->setAccessibleName(words);
        grid->addWidget(new QLabel(words), row, 0);
        grid->addWidget(widget, row++, 1);
    };
    const auto choice = [](const QStringList& words) {
        auto* out = new QComboBox;
        out->addItems(words);
        return out;
    };
    auto* name = new QLineEdit(QObject::tr("New job"));
    QStringList kinds;
    for (const job::CarKind kind : job::all_car_kinds) kinds << QObject::tr(job::name_of(kind));
    auto* kind = choice(kinds);
    auto* driven = choice({QObject::tr("front"), QObject::tr("rear"), QObject::tr("all")});
    const QStringList sorts{QObject::tr("independent"), QObject::tr("solid axle")};
    const PerAxle<QComboBox*> suspension{choice(sorts), choice(sorts)};
    const PerAxle<QCheckBox*> bar{new QCheckBox(QObject::tr("fitted")), new QCheckBox(QObject::tr("fitted"))};
    line(QObject::tr("Job"), name, "new name");
    line(QObject::tr("Kind of car"), kind, "new kind");
    line(QObject::tr("Driven wheels"), driven, "new driven");
    line(QObject::tr("Front suspension"), suspension.front, "new front suspension");
    line(QObject::tr("Rear suspension"), suspension.rear, "new rear suspension");
    line(QObject::tr("Front anti-roll bar"), bar.front, "new front bar");
    line(QObject::tr("Rear anti-roll bar"), bar.rear, "new rear bar");
    for (QCheckBox* box : {bar.front, bar.rear}) box->setChecked(true);
    kind->setCurrentIndex(static_cast<int>(job::CarKind::Family));
    const auto asked = [=] {
        job::NewCar out;
        if (const QString typed = name->text().simplified(); !typed.isEmpty()) out.name = typed.toStdString();
        out.kind = static_cast<job::CarKind>(kind->currentIndex());
        out.driven = static_cast<job::Driven>(driven->currentIndex());
        for (const End end : both_ends) {
            out.suspension[end] = static_cast<AxleKind>(suspension[end]->currentIndex());
            out.bar[end] = bar[end]->isChecked();
        }
        return out;
    };
    column->addLayout(grid);
    // The car that it would be, drawn as on its own station.
    auto* would_be = new Document(card);
    would_be->set_units(document.units());
    auto* picture = new CarDrawing(*would_be);
    picture->setAttribute(Qt::WA_TransparentForMouseEvents);
    column->addWidget(picture, 1);
    const auto draw = [=] { would_be->start_new(job::new_car(asked())); };
    draw();
    QObject::connect(kind, &QComboBox::activated, card, [=](int chosen) { // what is usual of it, to be changed
        const auto is = static_cast<job::CarKind>(chosen);
        driven->setCurrentIndex(static_cast<int>(job::usual_drive(is)));
        for (const End end : both_ends)
            suspension[end]->setCurrentIndex(static_cast<int>(job::usual_suspension(is)[end]));
        draw();
    });
    for (QComboBox* box : {driven, suspension.front, suspension.rear})
        QObject::connect(box, &QComboBox::activated, card, draw);
    for (QCheckBox* box : {bar.front, bar.rear}) QObject::connect(box, &QCheckBox::toggled, card, draw);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    QPushButton* begin = buttons->addButton(QObject::tr("Begin"), QDialogButtonBox::AcceptRole);
    begin->setObjectName("begin");
    begin->setDefault(true);
    column->addWidget(buttons);
    QObject::connect(buttons, &QDialogButtonBox::rejected, card, &QDialog::reject);
    QObject::connect(buttons, &QDialogButtonBox::accepted, card, &QDialog::accept);
    QObject::connect(card, &QDialog::accepted, &document,
                     [=, &document] { document.start_new(job::new_car(asked())); });
    picture->setMinimumHeight(200);
    card->resize(QSize(720, 660).boundedTo(parent->window()->size()));
    card->open();
    name->selectAll();
    name->setFocus();
}

} // namespace dervish::app
