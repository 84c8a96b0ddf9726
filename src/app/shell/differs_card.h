#pragma once
#include "app/document.h"
#include "app/late.h"
#include "app/widgets/timing.h"
#include "core/study/difference.h"
#include "core/sure/compare.h"

#include <QDialog>

class QGridLayout;
class QLabel;

namespace dervish::app {

/// What Trial has otherwise than Fitted, what each difference does alone and all together on the figures that decide,
/// how sure that is, and a way to take each back.
class DiffersCard : public QDialog {
    Q_OBJECT

public:
    explicit DiffersCard(Document& document, QWidget* parent = nullptr);
    void finish(); ///< waits for the figures: pictures and tests

private:
    struct Row {
        std::vector<sure::Change> change; ///< none: it cannot stand alone
        QString problem;
        sure::GoesOver edge{}; ///< on dry ground
    };
    struct Sums {
        sure::Figures fitted;
        sure::GoesOver edge;   ///< of Fitted
        std::vector<Row> rows; ///< a difference each, and all together last
    };
    void ask();
    void fill();
    void take_back(const study::Difference& difference);

    Document& document_;
    std::vector<study::Difference> differences_;
    QLabel* state_;
    Later later_; ///< asks
    QWidget* table_ = nullptr;
    Late<Sums> sums_; ///< last: it ends before what it posts to
};

/// One card a window: the one there is comes to the front.
void show_differences(QWidget* parent, Document& document);

} // namespace dervish::app
