#include "app/shell/find_box.h"
#include "app/widgets/car_fields.h"

#include "core/job/fields.h"

#include <QAbstractButton>
#include <QAction>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace dervish::app {

namespace {
/// What a shop calls things, beside the name that a field or an action has here.
QString also_called(const QString& where) {
    static const std::pair<const char*, const char*> words[] = {
        {"stand/lift", "lower lowered raise raised ride height spacers"},
        {"springs/", "spring coil stiffer softer"},
        {"dampers/", "shock absorber firmer clicks"},
        {"tyres/", "tire rubber set"},
        {"stand/pressure", "tyre tire air kPa psi"},
        {"stand/camber", "alignment negative"},
        {"bar/outer_diameter", "sway thickness thicker thinner size"},
        {"links/", "drop link end link"},
        {"loads/", "luggage weight roof passenger"},
        {"brace/", "strut frame stiffener"},
        {"_load", "corner weight scales"},
        {"cg_height", "centre of gravity"},
        {"roll_centre", "geometry"},
        {"Undo", "take back go back mistake history"},
        {"Redo", "again forward"},
        {"Save", "file store keep"},
        {"Open", "file load history"},
        {"New job", "car start begin"},
        {"What differs", "compare change difference history"},
        {"Cures", "help fix understeer oversteer lean spring change"},
        {"Manoeuvre", "slalom lane change kerb S-bend"},
        {"Ride", "comfort rough bumps"},
        {"Conditions", "wet rain snow gravel"},
        {"Schools", "understeer rules of thumb"},
        {"Rig check", "bench test measure rate"},
        {"Choices", "tube stock size shop"},
    };
    QString out;
    for (const auto& [part, also] : words)
        if (where.contains(part)) out += QString(" ") + also;
    return out;
}
constexpr int called = Qt::UserRole + 2;
} // namespace

void show_find(QWidget* parent, Document& document, const QList<QAction*>& actions,
               const std::vector<std::pair<QString, QAbstractButton*>>& readings,
               const std::function<void(const QString&)>& go_to_field,
               const std::function<void(QAbstractButton*)>& go_to_reading) {
    auto* box = new QDialog(parent);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setObjectName("find");
    box->setWindowTitle(QObject::tr("Find"));
    box->resize(460, 380);
    auto* column = new QVBoxLayout(box);
    auto* typed = new QLineEdit;
    typed->setPlaceholderText(QObject::tr("a field, a load, an action"));
    auto* list = new QListWidget;
    column->addWidget(typed);
    column->addWidget(list);

    for (const job::FieldSeen& f : job::fields(document.job())) {
        const QString path = QString::fromStdString(f.path);
        if (is_of_car(path) ? as_edited(document, path) != path : path.startsWith("fitted/")) continue; // each once
        const QString axle = is_of_car(path)                     ? QString()
                             : f.path.starts_with("trial/front") ? QObject::tr("Front bar: ")
                             : f.path.starts_with("trial/rear")  ? QObject::tr("Rear bar: ")
                                                                 : QString();
        auto* item = new QListWidgetItem(axle + QString::fromStdString(f.group) + ", " + f.spec.label, list);
        item->setData(Qt::UserRole, path);
        item->setData(called, item->text() + also_called(path));
    }
    for (QAction* action : actions) {
        if (action->text().isEmpty()) continue;
        auto* item = new QListWidgetItem(action->text().remove('&'), list);
        item->setData(Qt::UserRole + 1, QVariant::fromValue(static_cast<QObject*>(action)));
        item->setData(called, item->text() + also_called(item->text()));
    }
    for (const auto& [name, go] : readings) {
        auto* item = new QListWidgetItem(name, list);
        item->setData(called, name + also_called(name));
        item->setData(Qt::UserRole + 3, QVariant::fromValue(static_cast<QObject*>(go)));
    }
    auto* none = new QLabel(QObject::tr("Nothing is called so. Try a part, a figure, or what you want to do: “lower”, "
                                        "“rate”, “compare”."));
    none->setObjectName("nothing found");
    none->setWordWrap(true);
    column->addWidget(none);
    const auto filter = [list, none](const QString& text) {
        const QStringList parts = text.split(' ', Qt::SkipEmptyParts);
        bool chosen = false;
        for (int i = 0; i < list->count(); ++i) {
            QListWidgetItem* item = list->item(i);
            bool hit = true;
            for (const QString& part : parts)
                hit = hit && item->data(called).toString().contains(part, Qt::CaseInsensitive);
            item->setHidden(!hit);
            if (hit && !chosen) {
                list->setCurrentItem(item);
                chosen = true;
            }
        }
        none->setVisible(!chosen);
    };
    filter({});
    const auto go = [box, list, go_to_field, go_to_reading] {
        QListWidgetItem* item = list->currentItem();
        if (!item || item->isHidden()) return;
        const QString path = item->data(Qt::UserRole).toString();
        auto* action = qobject_cast<QAction*>(item->data(Qt::UserRole + 1).value<QObject*>());
        auto* reading = qobject_cast<QAbstractButton*>(item->data(Qt::UserRole + 3).value<QObject*>());
        box->close();
        if (reading)
            go_to_reading(reading);
        else if (!path.isEmpty())
            go_to_field(path);
        else if (action)
            action->trigger();
    };
    QObject::connect(typed, &QLineEdit::textChanged, box, filter);
    QObject::connect(typed, &QLineEdit::returnPressed, box, go);
    QObject::connect(list, &QListWidget::itemActivated, box, go);
    box->show();
    typed->setFocus();
}

} // namespace dervish::app
