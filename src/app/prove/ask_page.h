#pragma once
#include "app/prove/test_sums.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace dervish::app {

class EntryRow;
class NumberEdit;

/// What is asked, how, of which setups, in which order; and the guesses with the prediction that ends them.
class AskPage : public QWidget {
    Q_OBJECT

public:
    AskPage(Document& document, TestSums& sums, QWidget* parent = nullptr);
    void refresh();

signals:
    void remove_asked();
    void test_planned(); ///< another one, the last of the job's

private:
    void build_question(QVBoxLayout* column);
    void build_states(QVBoxLayout* column);
    void build_order(QVBoxLayout* column);
    void build_rows(); ///< of the protocol's settings
    void edit(const QString& what, const QString& merge, const std::function<void(job::Job&, int)>& change);
    std::vector<job::Setup> offered() const;
    void print_sheet();
    void plan_better();

    Document& document_;
    TestSums& sums_;
    QLineEdit *name_, *question_;
    QComboBox *asks_, *protocol_, *add_;
    QLabel *states_, *order_, *how_;
    QPushButton *add_state_, *remove_state_, *more_, *fewer_, *lot_, *better_;
    QCheckBox* blind_;
    QWidget* settings_;
    std::vector<EntryRow*> rows_;
    std::vector<std::pair<std::string, QComboBox*>> choices_;
    QString built_; ///< of which test and protocol the rows are
};

/// Everybody's guesses, and the prediction.
class GuessPage : public QWidget {
    Q_OBJECT

public:
    GuessPage(Document& document, TestSums& sums, QWidget* parent = nullptr);
    void refresh();

private:
    void note();
    Document& document_;
    TestSums& sums_;
    QLineEdit* person_;
    NumberEdit *value_, *span_;
    QComboBox *state_, *kind_, *than_;
    QLabel *list_, *error_, *value_label_, *of_;
    QPushButton *note_, *take_back_, *predict_;
};

} // namespace dervish::app
