#pragma once
#include "app/document.h"
#include "core/proof/eye.h"

#include <QDialog>

class QLabel;
class QVBoxLayout;

namespace dervish::app {

/// A practice round: a made-up car, a question, the answer with its figures; the score is kept with the program, not
/// with the job.
class PracticeCard : public QDialog {
    Q_OBJECT

public:
    explicit PracticeCard(Document& document, QWidget* parent = nullptr);

private:
    void ask();
    void answer(std::size_t choice);
    Document& document_;
    proof::Practice now_;
    unsigned seed_;
    bool answered_ = false;
    QLabel *question_, *answer_, *score_;
    QVBoxLayout* choices_;
};

} // namespace dervish::app
