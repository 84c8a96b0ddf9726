#include "app/flex/flex_sums.h"

#include "core/job/fields.h"
#include "store/job_file.h"

namespace dervish::app {

FlexSums::FlexSums(Document& document, QObject* parent) : QObject(parent), document_(document) {
    connect(&document_, &Document::changed, this, [this] {
        stale_ = true;
        stop_bands();
    });
}

void FlexSums::stop_bands() {
    worker_.stop();
    bands_.reset();
}

void FlexSums::start_bands() {
    stop_bands();
    if (!shown()) return;
    worker_.start([this, state = shown()->of, protocol = protocol_](const auto& cancelled, const auto& post) {
        const job::Bands result = job::flex_bands(state, protocol, cancelled);
        post([this, result] {
            bands_ = result;
            emit changed();
        });
    });
}

void FlexSums::finish_bands() {
    ask();
    worker_.finish();
}

void FlexSums::set_protocol(const flex::Protocol& protocol) {
    protocol_ = protocol;
    stale_ = true;
    ask();
}

void FlexSums::set_other(const std::filesystem::path& path) {
    std::optional<job::Job> other;
    if (!path.empty()) {
        other = store::load(path).job;
        job::check(*other);
    }
    other_ = std::move(other);
    stale_ = true;
    ask();
}

void FlexSums::ask() {
    if (!std::exchange(stale_, false)) return;
    const std::string was = shown() ? shown()->of.name : std::string();
    const job::Job& job = document_.job();
    all_ = job::flex_all(job::flex_states(job, document_.computed_setup(document_.look()), other_ ? &*other_ : nullptr),
                         protocol_);
    fitted_.reset();
    if (document_.look() == Look::Trial) {
        const auto fitted =
            job::flex_all({{"as Fitted", job.vehicle, document_.computed_setup(Look::Fitted)}}, protocol_);
        if (!fitted.empty()) fitted_ = fitted[0];
    }
    chosen_ = 0;
    for (std::size_t i = 0; i < all_.size(); ++i)
        if (all_[i].of.name == was) chosen_ = i;
    start_bands();
    emit changed();
}

void FlexSums::choose(std::size_t state) {
    chosen_ = state;
    start_bands();
    emit changed();
}

} // namespace dervish::app
