#pragma once
#include "app/document.h"
#include "core/edit/readings.h"

#include <QWidget>

class QLabel;

namespace dervish::app {

class NumberEdit;

/// A number that is no field under its label: typed by the one grammar, kept as a draft while it cannot be used.
class EntryRow : public QWidget {
    Q_OBJECT

public:
    struct Place {
        job::FieldSpec spec;
        std::string key;                              ///< of its draft
        std::function<QString(const job::Job&)> text; ///< as it is kept, shown
        std::function<void(job::Job&, const edit::Entry&)> type;
        bool may_be_more = false;
        QString said = {}; ///< the undo's word for it; empty: of a test
    };
    EntryRow(Document& document, const QString& label, const QString& name, Place place, QWidget* parent = nullptr);
    void refresh();
    NumberEdit* line() const { return line_; }

private:
    Document& document_;
    Place place_;
    QString words_;
    QLabel *label_, *error_;
    NumberEdit* line_;
};

} // namespace dervish::app
