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

/// What is asked, how, of which setups, in which order.
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
    QComboBox *asks_, *unknown_, *protocol_, *add_;
    QLabel *states_, *order_, *how_;
    QPushButton *add_state_, *remove_state_, *more_, *fewer_, *lot_, *better_, *others_;
    QCheckBox* blind_;
    QWidget* settings_;
    std::vector<EntryRow*> rows_;
    std::vector<std::pair<std::string, QComboBox*>> choices_;
    int of_ = -1;   ///< the test whose words stand here
    QString built_; ///< of which test and protocol the rows are
};

} // namespace dervish::app
