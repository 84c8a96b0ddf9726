#pragma once
#include "app/shell/station.h"
#include "core/study/assess.h"

class QButtonGroup;
class QCheckBox;
class QComboBox;
class QLineEdit;

namespace dervish::app {

class CarDrawing;
class FieldPanel;
class MeasureNext;
class StandReading;

/// The car: every number with its source, the drawing to scale, the loads.
class CarStation : public Station {
    Q_OBJECT

public:
    explicit CarStation(Document& document, QWidget* parent = nullptr);
    QStringList shot_names() const override { return {"01-car"}; }
    void pose(int shot) override;
    QButtonGroup* parts() const override { return parts_; }
    bool go_to(const QString& path) override;
    void measure_next() override;
    void ask(study::Outcome outcome, const QString& name);

private:
    void refresh();
    void pick(const QString& path);
    int load_index() const; ///< of the shown load, −1 when none is shown
    void add_load();

    Document& document_;
    CarDrawing* drawing_;
    FieldPanel* fields_;
    MeasureNext* next_;
    QButtonGroup *parts_, *readings_;
    StandReading* stand_;
    QComboBox *kind_, *wheels_, *loads_;
    QLineEdit *car_name_, *load_name_;
    QCheckBox* aboard_;
    QWidget *load_tools_, *kind_tools_, *car_tools_;
    QString part_ = "vehicle";
};

} // namespace dervish::app
