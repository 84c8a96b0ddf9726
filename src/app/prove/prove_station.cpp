#include "app/prove/prove_station.h"

#include "app/prove/test_chart.h"
#include "app/prove/test_form.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/follow.h"
#include "app/widgets/station_frame.h"

namespace dervish::app {

ProveStation::ProveStation(Document& document, QWidget* parent)
    : Station(parent), chart_(new TestChart(document)), gauges_(new TravelGauges(document)),
      form_(new TestForm(document)) {
    QVBoxLayout* side = lay_station(this, chart_, gauges_, 218);
    side->addWidget(form_);
    side->addWidget(caution(tr("On the ramps"),
                            tr("Firm level ground, ramps that cannot slip, low gear, one person guiding. Nobody under "
                               "or beside the car while it is up. Stop when a "
                               "tyre, hose or link touches. A disconnected link must be tied up or taken off.")));
    side->addStretch();
    connect(form_, &TestForm::shown, this, [this](int index) {
        chart_->show_test(index);
        gauges_->show_test(index);
    });
    new Follow(document, this, [this] {
        chart_->show_test(form_->index());
        gauges_->show_test(form_->index());
    });
    form_->show_test(0);
}

} // namespace dervish::app
