#pragma once
#include "app/book/story_view.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;

namespace dervish::app {

/// Who drives and rides: each with weight, the load that they are, and what they accept.
class PeoplePage : public QWidget {
    Q_OBJECT

public:
    PeoplePage(Document& document, StoryView& story, QWidget* parent = nullptr);
    void refresh();

private:
    void put();
    void show_chosen();
    Document& document_;
    StoryView& story_;
    QListWidget* list_;
    QLineEdit *name_, *mass_, *accepts_;
    QComboBox* load_;
    QLabel *error_, *said_;
    std::string shown_;
};

} // namespace dervish::app
