#pragma once
#include "app/prove/test_sums.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace dervish::app {

/// What was decided, who agrees, who objects.
class DecidePage : public QWidget {
    Q_OBJECT

public:
    DecidePage(Document& document, TestSums& sums, QWidget* parent = nullptr);
    void refresh();

private:
    void decide();
    void speak(bool agrees);
    Document& document_;
    TestSums& sums_;
    QComboBox* kind_;
    QLineEdit *words_, *ordered_, *again_, *person_, *why_;
    QLabel *voices_, *now_, *error_;
    QPushButton *decide_, *agree_, *object_, *take_back_;
    job::Decision::Kind shown_ = job::Decision::Kind::None;
    int of_ = -1; ///< the test whose choice stands here
};

} // namespace dervish::app
