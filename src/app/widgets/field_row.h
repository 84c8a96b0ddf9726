#pragma once
#include "app/document.h"
#include "core/job/fields.h"

#include <QWidget>

class QLabel;
class QTimer;
class QToolButton;

namespace dervish::app {

class NumberEdit;

/// One field of the job: label, value, unit, source and spread; an error below when what was typed cannot be used.
class FieldRow : public QWidget {
    Q_OBJECT

public:
    FieldRow(Document& document, const job::FieldSeen& field, const QString& label, QWidget* parent = nullptr);

    void refresh(const job::FieldSeen& field, bool writable);
    const QString& path() const { return path_; }
    NumberEdit* edit() const { return edit_; }
    QString error() const;

private:
    void choose_source();
    void tell_problem();
    void leave(); ///< what stands is shown as it is kept

    Document& document_;
    QString path_;
    job::FieldSpec spec_;
    job::Measured value_;
    /// What the row shows, so that an unchanged one costs nothing.
    struct Seen {
        job::Measured value;
        units::System units;
        bool writable;
        QString doubt;
        bool operator==(const Seen&) const = default;
    };
    std::optional<Seen> seen_;
    std::optional<std::pair<job::Source, QRgb>> marked_; ///< the source's mark as it is drawn
    QLabel *label_, *unit_, *error_;
    NumberEdit* edit_;
    QToolButton* source_;
    QTimer* pause_;
};

} // namespace dervish::app
