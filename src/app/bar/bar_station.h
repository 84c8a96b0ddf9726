#pragma once
#include "app/shell/station.h"

class QButtonGroup;
class QCheckBox;
class QLabel;
class QLineEdit;
class QSlider;
class QTimer;

namespace dervish::app {

class BarDrawing;
class BarReadings;
class FieldPanel;
class MeasureNext;

/// The bar bench.
class BarStation : public Station {
    Q_OBJECT

public:
    explicit BarStation(Document& document, QWidget* parent = nullptr);
    QString title() const override { return tr("Bar"); }
    QString icon_name() const override { return "bar"; }
    int key() const override { return 2; }
    QString shot_name() const override { return "02-bar"; }
    bool go_to(const QString& path) override;
    void step(int by) override;
    void play() override;
    void measure_next() override;

private:
    void refresh();
    void show_axle(bool front);
    void show_group(const QString& group);
    void change_eye_count(int by);
    void show_shelf();
    QString prefix() const;

    Document& document_;
    BarDrawing* drawing_;
    BarReadings* readings_;
    FieldPanel* fields_;
    MeasureNext* next_;
    QButtonGroup *axles_, *groups_;
    QCheckBox *fitted_, *connected_;
    QLineEdit* name_;
    QWidget* eye_buttons_;
    QLabel* note_;
    QSlider* roll_;
    QTimer* player_;
    int phase_ = 0;
    QString group_ = "bar";
};

} // namespace dervish::app
