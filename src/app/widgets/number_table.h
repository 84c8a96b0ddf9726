#pragma once
#include "app/widgets/number_edit.h"

#include <QIcon>
#include <QTableWidget>

namespace dervish::app {

/// Numbers read or measured, a row a time: typed by the one grammar, taken when the hand pauses. What cannot be used
/// stays as it was typed, marked, and its owner tells why.
class NumberTable : public QTableWidget {
    Q_OBJECT

public:
    struct Cell {
        QString text, problem; ///< as it stands; why it cannot be used, empty where it can
        QIcon mark = {};       ///< before it
        QString hint = {};     ///< over it
    };
    struct Problem {
        int row = 0;
        QString words; ///< empty: there is none
    };
    NumberTable(const Document& document, const QString& name, const QString& told, NumberDelegate::SpecOf spec_of);
    /// Fills it anew; `cell` is asked for every place, and says nothing where no number stands. The first problem.
    Problem show_cells(int rows, const QStringList& heads, bool writable,
                       const std::function<std::optional<Cell>(int row, int column)>& cell);

signals:
    void typed(int row, int column, const QString& text);

private:
    bool filling_ = false;
};

/// A reading's cell: what waits at the draft `key` with why, which is `half` where it is a number that waits for
/// another; else what is kept.
NumberTable::Cell reading_cell(const Document& document, const std::string& key, const job::FieldSpec& spec,
                               std::optional<double> kept, const QString& half);

} // namespace dervish::app
