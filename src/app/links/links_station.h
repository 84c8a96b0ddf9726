#pragma once
#include "app/shell/station.h"
#include "core/linkage/linkage.h"

class QButtonGroup;
class QComboBox;
class QLabel;
class QLineEdit;
class QSlider;

namespace dervish::app {

class FieldPanel;
class LimitsPage;
class LinksDrawing;
class MeasureNext;
class PlanPage;
class Player;
class RestPage;
class StepsPage;
class SweepReading;

/// The link rig: one end's link through travel, its length, limits, rest state, and how it is set up.
class LinksStation : public Station {
    Q_OBJECT

public:
    explicit LinksStation(Document& document, QWidget* parent = nullptr);
    QStringList shot_names() const override { return {"03-link", "03-link-length", "03-link-set-up"}; }
    void pose(int shot) override;
    QButtonGroup* parts() const override { return groups_; }
    bool go_to(const QString& path) override;
    void step(int by) override;
    void play() override;
    void measure_next() override;
    QString caution_words() const override;

    /// Goes to the place of the smallest link margin of the looked-at setup.
    void show_tightest();
    /// This end's curves to a CSV file. Throws BadInput.
    void write_sweep(const QString& file);

private:
    QWidget* build_controls();
    QWidget* build_pages();
    QWidget* build_list_tools();
    void show_end(End end, std::size_t side);
    void show_group(int group);
    void scrub();
    void put_own(double own);
    void refresh();
    void show_frame(int frame);
    void edit_list(int by);
    QString axle_path() const;

    Document& document_;
    LinksDrawing* drawing_;
    SweepReading* sweep_;
    PlanPage* plan_;
    LimitsPage* limits_;
    RestPage* rest_;
    StepsPage* steps_;
    FieldPanel* fields_;
    MeasureNext* next_;
    QButtonGroup *axles_, *sides_, *groups_, *pages_;
    QComboBox *mode_, *parts_;
    QSlider *travel_, *steer_;
    QWidget *steer_box_, *list_tools_, *part_tools_;
    QLineEdit* part_name_;
    QLabel* note_;
    Player* player_;
    int group_ = 0;
    double own_ = 0; ///< of this end's wheel as scrubbed, m
};

} // namespace dervish::app
