#pragma once
#include "app/document.h"
#include "core/job/fields.h"

#include <QWidget>
#include <functional>

class QComboBox;

namespace dervish::app {

/// What is chosen in the box is chosen in the job, at the path that is asked for then; `said` is the undo's word.
void bind_choice(QComboBox* box, Document& document, const QString& said, std::function<QString()> path);

/// One choice of the job among a few words.
class ChoiceRow : public QWidget {
    Q_OBJECT

public:
    ChoiceRow(Document& document, const job::ChoiceRef& choice, QWidget* parent = nullptr);
    void refresh(const job::ChoiceRef& choice, bool writable);
    const QString& path() const { return path_; }
    QComboBox* box() const { return box_; }

private:
    QString path_;
    QComboBox* box_;
};

} // namespace dervish::app
