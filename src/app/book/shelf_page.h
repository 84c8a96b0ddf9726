#pragma once
#include "app/book/story_view.h"
#include "core/book/shelf.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;

namespace dervish::app {

/// All parts as things: where each is, by what it is known, how it was when it was looked at, what the book says of it.
class ShelfPage : public QWidget {
    Q_OBJECT

public:
    ShelfPage(Document& document, StoryView& story, QWidget* parent = nullptr);
    void refresh();

private:
    const book::Thing* thing() const;
    void change_record(const QString& what, const std::function<void(job::PartRecord&)>& change);
    void type_number(QLineEdit* line, bool mass);
    void show_thing();

    Document& document_;
    StoryView& story_;
    std::vector<book::Thing> things_;
    QListWidget* list_;
    QWidget* body_;
    QLineEdit *name_, *origin_, *notes_, *price_, *mass_, *mark_, *sizes_;
    QComboBox* where_;
    std::vector<QComboBox*> looks_;
    QLabel *history_, *error_;
    std::string chosen_, shown_;
};

} // namespace dervish::app
