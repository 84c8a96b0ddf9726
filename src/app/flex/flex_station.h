#pragma once
#include "app/shell/station.h"
#include "core/flex/protocol.h"

class QButtonGroup;
class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QSlider;
class QVBoxLayout;

namespace dervish::app {

class FieldPanel;
class FlexDrawing;
class FlexSums;
class Later;
class NumberBox;
class Player;
class StatesReading;

/// What the ramps will show, wheel by wheel, in every state of the bars, and what stops the travel.
class FlexStation : public Station {
    Q_OBJECT

public:
    explicit FlexStation(Document& document, QWidget* parent = nullptr);
    QStringList shot_names() const override { return {"05-flex"}; }
    void pose(int shot) override;
    QButtonGroup* parts() const override { return groups_; }
    bool go_to(const QString& path) override;
    void step(int by) override;
    void play() override;
    QString caution_words() const override;
    /// Sets another job's Fitted beside; throws BadInput.
    void set_other(const QString& path);

private:
    static constexpr int why_group = 0, ground_group = 1, front_group = 2, rear_group = 3, aboard_group = 4;
    QWidget* build_controls();
    void build_why(QVBoxLayout* side);
    void build_ground(QVBoxLayout* side);
    void build_springs(QVBoxLayout* side);
    void build_aboard(QVBoxLayout* side);
    void show_aboard();
    void show_group(int group);
    void take_protocol();
    void set_reach(double reach);
    void to_lift();
    void told();
    void tell_why();
    void tell_wheels();
    void ask_other();
    void put_on_trial();
    void change_springs(bool more);
    void show_units();
    bool slope() const;
    QString band_words() const;

    Document& document_;
    FlexSums* sums_;
    FlexDrawing* drawing_;
    StatesReading *states_, *heights_;
    QButtonGroup* readings_;
    FieldPanel* fields_;
    QButtonGroup *kinds_, *groups_;
    QComboBox* wheel_;
    QSlider *reach_, *weight_;
    QLabel *words_, *why_, *best_, *road_, *taken_, *wheels_;
    QPushButton *put_, *other_, *leave_;
    NumberBox *second_, *angle_, *stone_, *light_, *longer_;
    QWidget *why_page_, *ground_page_, *springs_page_, *aboard_page_;
    std::vector<QCheckBox*> aboard_; ///< of the vehicle's loads
    Player* player_;
    Later* later_;
    bool at_lift_ = true; ///< the scrub stays where a wheel goes light
    int group_ = why_group;
};

} // namespace dervish::app
