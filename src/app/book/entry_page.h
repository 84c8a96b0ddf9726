#pragma once
#include "app/book/story_view.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;
class QSlider;
class QVBoxLayout;

namespace dervish::app {

/// The chosen entry or test in words, and what can be done with it: seen as the car stood, gone back to, corrected,
/// struck out, rated again, a file put with it.
class EntryPage : public QWidget {
    Q_OBJECT

public:
    EntryPage(Document& document, StoryView& story, QWidget* parent = nullptr);
    void refresh();
    void look_back();

signals:
    void prove_wanted(int test);

private:
    void build_correction(QVBoxLayout* column);
    void build_marks(QVBoxLayout* column);
    void correct();
    std::string said(const std::string& field) const; ///< of the chosen entry, as it is shown
    void keep(const std::string& field, const QString& text);
    void strike();
    void attach_file();
    void open_file(int which);
    void show_marks();
    QString told(const job::Entry& entry) const;
    QString told(const job::PlannedTest& test) const;
    void edit(const QString& what, const std::function<void(job::Job&, int)>& change); ///< says why it cannot be

    Document& document_;
    StoryView& story_;
    QLabel *words_, *error_;
    QPushButton *as_it_stood_, *go_back_, *open_test_, *correct_, *strike_, *attach_, *felt_;
    QWidget *correction_, *marks_;
    QLineEdit *date_, *distance_, *why_struck_, *again_, *marker_;
    QPlainTextEdit* reason_;
    QComboBox* files_;
    struct Mark {
        std::string scale;
        QSlider* slider;
        QLabel* value;
    };
    std::vector<Mark> mark_rows_;
    int of_ = -2; ///< entry that the correction's fields are of
};

} // namespace dervish::app
