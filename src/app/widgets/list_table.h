#pragma once
#include "app/document.h"

#include <QWidget>

class QLabel;

namespace dervish::app {

class NumberTable;

/// The steps or points of a bar as a table: a line an entry, a column a size, typed as in any field (what cannot be
/// used stays and is told below), and what is there at the end.
class ListTable : public QWidget {
    Q_OBJECT

public:
    explicit ListTable(Document& document, QWidget* parent = nullptr);
    /// Shows the list of the bar of one axle: "walk" or "points".
    void show_list(End end, job::Form form, bool writable);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override; ///< the menu key

private:
    void refresh();
    void show_mark(int row);
    void ask_about(QPoint place);
    void change_rows(int by);
    const job::BarData& bar() const;
    const job::FieldSpec& spec_at(int column) const;
    QString path(int row, int column) const;

    Document& document_;
    NumberTable* table_;
    QLabel* problem_;
    QWidget* tools_;
    End end_ = End::Front;
    bool writable_ = true;
    job::Form form_ = job::Form::Walk;
    std::vector<job::FieldSpec> specs_; ///< of the columns but that of the marks
};

} // namespace dervish::app
