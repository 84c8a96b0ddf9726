#pragma once
#include "app/shell/station.h"

#include <QAbstractButton>
#include <QButtonGroup>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QSlider;

namespace dervish::app {

class BarDrawing;
class BarReadings;
class ChoicesReading;
class FieldPanel;
class ListTable;
class MeasureNext;
class Player;
class RigReading;
class TravelReading;

/// The bar bench.
class BarStation : public Station {
    Q_OBJECT

public:
    /// The centreline of the looked-at bar to a CSV file, and Trial's from one. Throw BadInput.
    void write_centreline(const QString& file) const;
    void take_centreline(const QString& file);
    /// Trial's bushes from hardness and size, with their wide band. Throws BadInput at "shore", "outer" or "length".
    void estimate_bush(double shore, double outer, double length);
    /// The drawing (.svg, .png, .pdf) or the travel curves (.csv). Throws BadInput.
    void export_to(const QString& file);

    explicit BarStation(Document& document, QWidget* parent = nullptr);
    QStringList shot_names() const override { return {"02-bar", "02-bar-travel", "02-bar-choices"}; }
    void pose(int shot) override { pages_->button(shot)->click(); }
    QButtonGroup* parts() const override { return groups_; }
    bool go_to(const QString& path) override;
    void step(int by) override;
    void play() override;
    void measure_next() override;

private:
    void refresh();
    void show_axle(End end);
    void show_group(const QString& group);
    void change_eye_count(int by);
    void import_centreline();
    void ask_bush();
    void export_centreline();
    QStringList field_paths() const;
    QWidget* build_forms();
    QWidget* build_reading();
    const job::Assembly& assembly() const;
    void show_shelf();
    QString prefix() const;

    Document& document_;
    BarDrawing* drawing_;
    BarReadings* readings_;
    TravelReading* travel_;
    ChoicesReading* choices_;
    RigReading* rig_;
    FieldPanel* fields_;
    MeasureNext* next_;
    QButtonGroup *axles_, *groups_, *pages_ = nullptr;
    QCheckBox *fitted_, *connected_;
    QLineEdit* name_;
    QWidget *eye_buttons_, *form_tools_, *arms_tools_, *held_tools_, *end_tools_, *csv_tools_, *bush_tools_,
        *joint_tools_;
    QComboBox *form_, *arms_, *held_, *end_, *bush_kind_, *joint_kind_;
    ListTable* list_;
    QWidget* bush_ = nullptr;
    QLabel* note_;
    QSlider* roll_;
    Player* player_;
    QString group_ = "bar";
};

} // namespace dervish::app
