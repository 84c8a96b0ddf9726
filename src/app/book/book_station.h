#pragma once
#include "app/book/story_view.h"
#include "app/shell/station.h"

class QComboBox;
class QLineEdit;
class QPushButton;

namespace dervish::app {

class EntryPage;
class FigureRows;
class PeoplePage;
class SheetPage;
class SheetView;
class ShelfPage;
class StoryDrawing;
class UpkeepPage;
class WritePage;
class PaperRow;

/// The car's story: one line by date or distance, what is chosen on it, the shelf, upkeep, people.
class BookStation : public Station {
    Q_OBJECT

public:
    explicit BookStation(Document& document, QWidget* parent = nullptr);
    QStringList shot_names() const override { return {"08-book", "08-book-sheet"}; }
    void pose(int shot) override;
    bool go_to(const QString&) override { return false; }
    void step(int by) override { story_->step(by); }
    QButtonGroup* parts() const override { return parts_; }

    PaperRow* papers() const { return papers_; }

signals:
    void prove_wanted(int test);

protected:
    void showEvent(QShowEvent*) override { refresh(); }

private:
    enum Part { OfEntry, Write, Shelf, Upkeep, People, Sheet };
    void build_search(class QVBoxLayout* side);
    void show_part(int part);
    void refresh();
    void tell_rows();
    void look_for();

    Document& document_;
    StoryView* story_;
    StoryDrawing* drawing_;
    FigureRows* rows_;
    QButtonGroup *parts_, *axis_;
    QLineEdit* words_;
    QComboBox *part_, *person_;
    QPushButton* everything_;
    PaperRow* papers_;
    EntryPage* entry_;
    WritePage* write_;
    ShelfPage* shelf_;
    UpkeepPage* upkeep_;
    PeoplePage* people_;
    SheetView* sheet_;
    SheetPage* sheet_page_;
    class QStackedWidget* left_; ///< the story, or the sheet
    std::vector<QWidget*> pages_;
    int shown_ = OfEntry;
    struct Then {
        int entry = -1;
        std::shared_ptr<const job::Job> of; ///< whose book it is an entry of
        std::shared_ptr<const study::Assessment> figures;
        QString wrong;
    };
    Then then_; ///< the car as it stood by the chosen entry, computed
};

} // namespace dervish::app
