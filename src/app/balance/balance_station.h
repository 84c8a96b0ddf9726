#pragma once
#include "app/shell/station.h"
#include "core/study/balance.h"

class QButtonGroup;
class QComboBox;
class QLabel;
class QPushButton;
class QSlider;
class QVBoxLayout;

namespace dervish::app {

class BalanceDrawing;
class BalanceSums;
class BarsReading;
class ConditionsPage;
class CuresPage;
class CurveReading;
class FieldPanel;
class BumpReading;
class FigureRows;
class Later;
class ManoeuvrePage;
class Player;
class RideReading;
class UseReading;

/// Who gives up first in a bend, what the bars do to it, and what else would do the same.
class BalanceStation : public Station {
    Q_OBJECT

public:
    explicit BalanceStation(Document& document, QWidget* parent = nullptr);
    QStringList shot_names() const override {
        return {"04-balance",      "04-balance-manoeuvre",  "04-balance-cures",
                "04-balance-ride", "04-balance-conditions", "04-balance-use"};
    }
    void pose(int shot) override;
    QButtonGroup* parts() const override { return groups_; }
    bool go_to(const QString& path) override;
    void step(int by) override;
    void play() override;
    QString caution_words() const override;
    /// Waits for what follows later: pictures and tests.
    void finish();
    /// The ways to what a complaint wants, worked out on its ground.
    void show_cures(int complaint);
    void show_ride(); ///< its page, on the ground of the car's use

private:
    QWidget* build_controls();
    QWidget* build_pages();
    void build_heard(QVBoxLayout* side);
    void show_group(int group);
    void refresh();
    void say_pages();
    void say_bump();
    void say_schools();
    void tell_evidence();
    void choose_ground(Ground ground);
    void set_lateral(double lateral);
    void show_frame(int frame);

    Document& document_;
    BalanceSums* sums_;
    BalanceDrawing* drawing_;
    CurveReading* curve_;
    BarsReading* bars_;
    RideReading* ride_;
    UseReading* use_;
    ManoeuvrePage* manoeuvre_;
    ConditionsPage* conditions_;
    CuresPage* cures_;
    BumpReading* bumps_;
    FigureRows *bump_, *schools_;
    FieldPanel* fields_;
    QComboBox* ground_;
    QButtonGroup *pages_, *groups_;
    QSlider* turn_;
    QLabel *evidence_, *note_, *mind_;
    QWidget* heard_;
    std::vector<QPushButton*> complaints_;
    Player* player_;
    Later* later_;
    int group_ = 0;
};

} // namespace dervish::app
