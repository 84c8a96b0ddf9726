#pragma once
#include "app/document.h"
#include "app/words.h"
#include "core/edit/readings.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace dervish::app {

class NumberEdit;

/// Plans a ramp test, notes the guess, asks for the prediction, takes the readings.
class TestForm : public QWidget {
    Q_OBJECT

public:
    explicit TestForm(Document& document, QWidget* parent = nullptr);
    void show_test(int index);
    int index() const { return index_; }

signals:
    void shown(int index);

private:
    void refresh();
    void refresh_table();
    void new_test();
    void predict();
    void remove_test();
    void edit_test(const QString& what, const QString& merge, const std::function<void(job::PlannedTest&)>& change);
    void type_length(NumberEdit* line, const QString& key,
                     const std::function<void(job::PlannedTest&, std::optional<double>)>& set);
    void type_cell(int row, int column);
    QString draft_key(const QString& what) const { return qs(edit::test_key(index_, what.toStdString())); }
    const job::PlannedTest* test() const;

    Document& document_;
    int index_ = 0;
    bool filling_ = false;
    QComboBox *tests_, *method_, *raised_;
    QLineEdit* name_;
    NumberEdit *height_, *spread_, *guess_;
    QPushButton *predict_, *remove_;
    QLabel *height_label_, *error_, *frozen_, *removed_;
    QTableWidget* table_;
    QWidget* body_;
};

} // namespace dervish::app
