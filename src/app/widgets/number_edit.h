#pragma once
#include "app/document.h"
#include "core/job/fields.h"

#include <QLineEdit>
#include <QPointer>
#include <QStyledItemDelegate>

#include <functional>

class QLabel;

namespace dervish::app {

/// A line for a number by the one grammar (units::read_entry). While it is typed in, what was understood stands under
/// it. A first click takes the whole text; Enter goes to the next line of its kind.
class NumberEdit : public QLineEdit {
    Q_OBJECT

public:
    NumberEdit(const Document& document, const job::FieldSpec& spec, bool may_be_more = false,
               QWidget* parent = nullptr);
    ~NumberEdit() override;
    void set_spec(const job::FieldSpec& spec) { spec_ = spec; }
    const job::FieldSpec& spec() const { return spec_; }
    /// Whether what cannot be used is told under it too; else its owner tells it.
    void set_tells_problems(bool tells) { tells_problems_ = tells; }
    QString told() const; ///< what stands under it now

signals:
    void source_asked(); ///< F2: the next source
    void menu_asked();   ///< Shift+F2, or the menu key: every source and spread

protected:
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    const Document& document_;

private:
    void tell();
    job::FieldSpec spec_;
    bool may_be_more_, tells_problems_ = true, just_clicked_ = false;
    QPointer<QLabel> under_;
};

/// Puts the caret into the first entry (line or table) that can be typed in after `from`, as the eye reads; before it
/// when `by` is -1. Nothing where there is none.
void to_next_entry(QWidget* from, int by = +1);
/// Into the first entry of `within`.
void to_first_entry(QWidget* within);

/// Marks a line whose text cannot be used, as the theme draws it.
void mark_bad(QLineEdit* line, bool bad);

/// A number of the window itself, not of the job: keeps its value in SI and shows it in the units chosen.
class NumberBox : public NumberEdit {
    Q_OBJECT

public:
    NumberBox(Document& document, const job::FieldSpec& spec, double value, double step, QWidget* parent = nullptr);
    double value() const { return value_; }
    void set_value(double si);

signals:
    void value_changed(double si);

protected:
    void keyPressEvent(QKeyEvent* event) override; ///< up and down step

private:
    void take();
    void show_value();
    double value_, step_;
};

/// Asks for one number in a card of its own; nothing when the person leaves it.
std::optional<double> ask_number(QWidget* parent, Document& document, const QString& title, const job::FieldSpec& spec,
                                 double value);

/// Number lines as editors of a table's cells: what is typed is committed when the hand pauses, not only on leaving;
/// Enter and Tab go to the next cell.
class NumberDelegate : public QStyledItemDelegate {
    Q_OBJECT

public:
    using SpecOf = std::function<job::FieldSpec(int row, int column)>;
    NumberDelegate(const Document& document, SpecOf spec, std::function<bool(int column)> may_be_more, QObject* parent);
    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem&, const QModelIndex& index) const override;
    void setEditorData(QWidget* editor, const QModelIndex& index) const override;
    bool eventFilter(QObject* editor, QEvent* event) override;

private:
    const Document& document_;
    SpecOf spec_;
    std::function<bool(int)> may_be_more_;
};

} // namespace dervish::app
