#pragma once
#include "app/shell/station.h"

class QComboBox;
class QLabel;
class QStackedWidget;

namespace dervish::app {

class DecidePage;
class FigureRows;
class GuessPage;
class AskPage;
class RunPage;
class TestSums;

/// Ask, guess, predict, run, judge, decide.
class ProveStation : public Station {
    Q_OBJECT

public:
    explicit ProveStation(Document& document, QWidget* parent = nullptr);
    QStringList shot_names() const override { return {"06-prove", "06-prove-plan", "06-prove-people"}; }
    void pose(int shot) override;
    QButtonGroup* parts() const override { return parts_; }
    bool go_to(const QString&) override { return false; }
    QString caution_words() const override;
    void step(int by) override; ///< to the next run
    void show_test(int index);

protected:
    void showEvent(QShowEvent*) override; ///< what changed meanwhile

private:
    enum Part { Plan, Guess, Runs, People, Decide };
    void new_test();
    void remove_test();
    void show_part(int part);
    void refresh();
    void tell_runs();
    void tell_plan();
    void tell_people();

    Document& document_;
    TestSums* sums_;
    QStackedWidget* drawings_;
    FigureRows* rows_;
    QButtonGroup* parts_;
    QComboBox* tests_;
    QLabel *removed_, *caution_;
    QWidget* body_;
    AskPage* plan_;
    GuessPage* guess_;
    RunPage* run_;
    DecidePage* decide_;
    std::vector<QWidget*> pages_;
    int part_ = Runs;
};

} // namespace dervish::app
