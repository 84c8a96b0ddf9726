#include "app/shell/find_box.h"
#include "app/widgets/car_fields.h"

#include "core/job/fields.h"

#include <QAction>
#include <QDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace dervish::app {

void show_find(QWidget* parent, Document& document, const QList<QAction*>& actions,
               const std::function<void(const QString&)>& go_to_field) {
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

    job::Job copy = document.job();
    for (const job::FieldRef& f : job::fields(copy)) {
        const QString path = QString::fromStdString(f.path);
        if (is_of_car(path) ? as_edited(document, path) != path : path.startsWith("fitted/")) continue; // each once
        const QString axle = is_of_car(path)                     ? QString()
                             : f.path.starts_with("trial/front") ? QObject::tr("Front bar: ")
                             : f.path.starts_with("trial/rear")  ? QObject::tr("Rear bar: ")
                                                                 : QString();
        auto* item = new QListWidgetItem(axle + QString::fromStdString(f.group) + ", " + f.spec.label, list);
        item->setData(Qt::UserRole, QString::fromStdString(f.path));
    }
    for (QAction* action : actions) {
        if (action->text().isEmpty()) continue;
        auto* item = new QListWidgetItem(action->text().remove('&'), list);
        item->setData(Qt::UserRole + 1, QVariant::fromValue(static_cast<QObject*>(action)));
    }
    const auto filter = [list](const QString& text) {
        const QStringList parts = text.split(' ', Qt::SkipEmptyParts);
        bool chosen = false;
        for (int i = 0; i < list->count(); ++i) {
            QListWidgetItem* item = list->item(i);
            bool hit = true;
            for (const QString& part : parts) hit = hit && item->text().contains(part, Qt::CaseInsensitive);
            item->setHidden(!hit);
            if (hit && !chosen) {
                list->setCurrentItem(item);
                chosen = true;
            }
        }
    };
    filter({});
    const auto go = [box, list, go_to_field] {
        QListWidgetItem* item = list->currentItem();
        if (!item || item->isHidden()) return;
        const QString path = item->data(Qt::UserRole).toString();
        auto* action = qobject_cast<QAction*>(item->data(Qt::UserRole + 1).value<QObject*>());
        box->close();
        if (!path.isEmpty())
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
