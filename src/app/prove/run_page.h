#pragma once
#include "app/prove/test_sums.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;
class QSlider;
class QToolButton;

namespace dervish::app {

class EntryRow;

/// One run: who drove what, what was felt, then what was read.
class RunPage : public QWidget {
    Q_OBJECT

public:
    RunPage(Document& document, TestSums& sums, QWidget* parent = nullptr);
    void refresh();

private:
    void build_words();
    void build_rows(); ///< marks, readings and conditions of the run
    QWidget* mark_row(const proof::Scale& scale);
    EntryRow* reading_row(const proof::Channel& channel);
    EntryRow* condition_row(const job::FieldSpec& spec);
    void edit(const QString& what, const QString& merge, const std::function<void(job::Job&, int, int)>& change);
    const job::Run* run() const;
    void begin();
    void show_aboard();
    void show_marks();
    void show_doubts();

    Document& document_;
    TestSums& sums_;
    QComboBox *which_, *state_, *out_;
    QLineEdit *driver_, *time_, *ground_, *marker_, *reason_;
    QPlainTextEdit* note_;
    QLabel *none_, *slips_, *felt_words_;
    QToolButton* aboard_; ///< with a menu of the loads
    QPushButton *next_, *felt_, *remove_, *leave_;
    QCheckBox *aids_, *more_;
    QWidget *body_, *marks_, *readings_, *conditions_;
    struct Mark {
        std::string scale;
        QSlider* slider;
        QLabel* value;
    };
    std::vector<Mark> mark_rows_;
    std::vector<EntryRow*> rows_;
    QString built_;     ///< of which run the rows are
    QString reason_of_; ///< of which run and reading the reason is
};

} // namespace dervish::app
