#pragma once
#include "app/document.h"
#include "core/job/fields.h"

#include <QWidget>

class QComboBox;

namespace dervish::app {

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
