#pragma once
#include "app/prove/test_sums.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace dervish::app {

class NumberEdit;

/// Everybody's guesses, and the prediction.
class GuessPage : public QWidget {
    Q_OBJECT

public:
    GuessPage(Document& document, TestSums& sums, QWidget* parent = nullptr);
    void refresh();

private:
    bool note(); ///< false: it cannot be used, and is told
    Document& document_;
    TestSums& sums_;
    QLineEdit *person_, *order_;
    NumberEdit *value_, *span_;
    QComboBox *state_, *kind_, *than_;
    QLabel *list_, *error_, *value_label_, *of_;
    QPushButton *note_, *take_back_, *predict_;
};

} // namespace dervish::app
