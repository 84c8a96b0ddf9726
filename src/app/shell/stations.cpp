#include "app/shell/stations.h"

#include "app/balance/balance_station.h"
#include "app/bar/bar_station.h"
#include "app/book/book_station.h"
#include "app/car/car_station.h"
#include "app/flex/flex_station.h"
#include "app/links/links_station.h"
#include "app/prove/prove_station.h"

namespace dervish::app {
namespace {
template <class S> Station* make(Document& document) { return new S(document); }
} // namespace

const std::vector<StationKind>& station_kinds() {
    static const std::vector<StationKind> all{
        {QT_TRANSLATE_NOOP("Station", "Car"), "car", 1, make<CarStation>},
        {QT_TRANSLATE_NOOP("Station", "Bar"), "bar", 2, make<BarStation>},
        {QT_TRANSLATE_NOOP("Station", "Links"), "links", 3, make<LinksStation>},
        {QT_TRANSLATE_NOOP("Station", "Balance"), "balance", 4, make<BalanceStation>},
        {QT_TRANSLATE_NOOP("Station", "Flex"), "flex", 5, make<FlexStation>},
        {QT_TRANSLATE_NOOP("Station", "Prove"), "prove", 6, make<ProveStation>},
        {QT_TRANSLATE_NOOP("Station", "Book"), "book", 8, make<BookStation>}};
    return all;
}

} // namespace dervish::app
