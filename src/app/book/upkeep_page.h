#pragma once
#include "app/book/story_view.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace dervish::app {

/// What is done again and again: due or not, done with one key, with what was found; intervals to be changed.
class UpkeepPage : public QWidget {
    Q_OBJECT

public:
    UpkeepPage(Document& document, StoryView& story, QWidget* parent = nullptr);
    void refresh();

private:
    const job::Upkeep* chosen() const;
    void done();
    void add_usual();
    void put(bool fresh); ///< what stands in the fields, on the chosen one or as one more
    void tell(const BadInput& wrong);
    double distance(const QString& text, const char* at) const;
    void show_chosen();

    Document& document_;
    StoryView& story_;
    QListWidget* list_;
    QLineEdit *date_, *clock_, *found_, *person_, *measured_, *what_, *every_, *days_;
    QComboBox *of_, *after_;
    QLabel *measured_label_, *error_, *none_, *chosen_;
    QPushButton *done_, *usual_, *change_, *add_, *remove_;
    std::string id_, shown_;
};

} // namespace dervish::app
