#pragma once
#include "app/book/story_view.h"

#include <QWidget>

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QPlainTextEdit;

namespace dervish::app {

/// A new entry of the book. What is typed is kept with the job until it is written.
class WritePage : public QWidget {
    Q_OBJECT

public:
    WritePage(Document& document, StoryView& story, QWidget* parent = nullptr);
    void refresh();

signals:
    void written();

private:
    struct Line {
        const char* key;
        QString label;
        QLineEdit* edit;
    };
    std::string asked_date_; ///< far ahead, and asked about once
    void keep(const std::string& field, const QString& text);
    job::EntryKind kind() const;
    double distance(const std::string& field) const; ///< throws BadInput
    void write();

    Document& document_;
    StoryView& story_;
    QComboBox *kind_, *wears_, *part_;
    std::vector<Line> lines_;
    QPlainTextEdit *reason_, *noticed_;
    QLabel* error_;
    QFormLayout* form_;
};

} // namespace dervish::app
