#pragma once
#include "app/document.h"

#include <QWidget>

class QLabel;
class QVBoxLayout;

namespace dervish::app {

class ChoiceRow;
class FieldRow;

/// All the fields below a path of the job, as rows, and the choices between them where they are asked for. Follows the
/// document; rows are rebuilt only when the fields change.
class FieldPanel : public QWidget {
    Q_OBJECT

public:
    explicit FieldPanel(Document& document, QWidget* parent = nullptr);

    /// Shows the fields below each of `prefixes`, in order. `writable` false: shown but not to be typed in.
    void show_fields(const QStringList& prefixes, bool writable, bool with_choices = false);
    void refresh();
    FieldRow* row(const QString& path) const;
    void focus(const QString& path) const; ///< puts the caret there, where it is one of these

private:
    Document& document_;
    QStringList prefixes_;
    bool writable_ = true, with_choices_ = false;
    QVBoxLayout* layout_;
    QLabel* note_; ///< where else the part stands
    std::vector<FieldRow*> rows_;
    std::vector<ChoiceRow*> choices_;
};

/// The legend of the source marks, with the switch that makes what is typed a measured value.
QWidget* source_legend(Document& document);

/// A caution where it acts: a shape and words.
QWidget* caution(const QString& title, const QString& text);

} // namespace dervish::app
