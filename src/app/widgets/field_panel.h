#pragma once
#include "app/document.h"

#include <QWidget>

class QVBoxLayout;
class QLabel;

namespace dervish::app {

class FieldRow;

/// All the fields below a path of the job, as rows. Follows the document; rows are rebuilt only when the fields change.
class FieldPanel : public QWidget {
    Q_OBJECT

public:
    explicit FieldPanel(Document& document, QWidget* parent = nullptr);

    /// Shows the fields below each of `prefixes`, in order. `writable` false: shown but not to be typed in.
    void show_fields(const QStringList& prefixes, bool writable);
    void refresh();
    FieldRow* row(const QString& path) const;

private:
    Document& document_;
    QStringList prefixes_;
    bool writable_ = true;
    QVBoxLayout* layout_;
    std::vector<FieldRow*> rows_;
};

/// The legend of the source marks.
QWidget* source_legend();

/// A caution where it acts: a shape and words.
QWidget* caution(const QString& title, const QString& text);

} // namespace dervish::app
