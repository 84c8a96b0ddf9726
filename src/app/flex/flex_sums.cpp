#include "app/flex/flex_sums.h"

#include "core/model/check.h"
#include "core/study/assess.h"
#include "core/sure/bands.h"
#include "core/sure/compare.h"
#include "core/sure/questions.h"

#include "core/job/fields.h"
#include "core/sure/draws.h"
#include "store/job_file.h"

#include <algorithm>

namespace dervish::app {

FlexSums::FlexSums(Document& document, QObject* parent) : QObject(parent), document_(document) {
    connect(&document_, &Document::changed, this, [this] {
        stale_ = true;
        stop();
    });
}

void FlexSums::stop() {
    worker_.stop();
    bands_worker_.stop();
    bands_.reset();
}

/// By straight lines first, then with the sides of drawn cars, as the tally's.
void FlexSums::start_bands() {
    bands_.reset();
    change_.reset();
    if (!shown()) return bands_worker_.stop();
    const bool of_other = other_ && chosen_ + 1 == all_.size(); // another car shares nothing
    const bool both_end = fitted_ && fitted_->ascent.lifted && shown()->ascent.lifted && !of_other;
    const double before = both_end ? fitted_->ascent.height : 0, after = shown()->ascent.height;
    const std::optional<study::FlexState> fitted = both_end ? std::optional(fitted_->of) : std::nullopt;
    bands_worker_.start([this, state = shown()->of, fitted, before, after, protocol = protocol_](const auto& cancelled,
                                                                                                 const auto& post) {
        const auto tell = [&](const sure::Bands& result) {
            post([this, result] {
                bands_ = result;
                emit changed();
            });
        };
        const auto go_on = [&](int) { return !cancelled(); };
        const auto question = [&] { return sure::reach(protocol); };
        const sure::Bands linear = sure::flex_bands(state, protocol, cancelled);
        tell(linear);
        if (!fitted) return tell(sure::with_draws(linear, state.vehicle, state.setup, question(), go_on));
        const sure::Bands of_fitted = sure::flex_bands(*fitted, protocol, cancelled);
        const auto sigma =
            sure::difference_sigma(fitted->setup, of_fitted.shares, state.setup, linear.shares, linear.sigma.size());
        const auto tell_change = [&](const sure::Change& change) {
            post([this, change] {
                change_ = change;
                emit changed();
            });
        };
        const sure::Change by_lines{after - before, sigma[sure::Reach]};
        if (cancelled()) return;
        tell_change(by_lines);
        const sure::ChangeDraws drawn =
            sure::draw_change({fitted->vehicle, fitted->setup}, {state.vehicle, state.setup}, question(),
                              sure::draws_for_sides, sure::draws_seed, go_on);
        if (cancelled()) return;
        tell_change(sure::with_draws({by_lines}, drawn.change)[0]);
        tell(sure::with_draws(linear, drawn.after));
    });
}

void FlexSums::finish() {
    ask();
    worker_.finish();
    bands_worker_.finish();
}

void FlexSums::set_protocol(const flex::Protocol& protocol) {
    protocol_ = protocol;
    all_.clear(); // of other ground
    fitted_.reset();
    stale_ = true;
    ask();
    emit changed();
}

void FlexSums::set_other(const std::filesystem::path& path) {
    std::optional<job::Job> other;
    if (!path.empty()) {
        other = store::load(path).job;
        model::check(*other);
    }
    other_ = std::move(other);
    stale_ = true;
    ask();
}

void FlexSums::set_longer(double m) {
    longer_ = m;
    stale_ = true;
    ask();
}

void FlexSums::leave_out() {
    if (chosen_ == 0 || !shown()) return;
    left_out_.push_back(shown()->of.what);
    stale_ = true;
    choose(0);
    ask();
}

void FlexSums::take_all() {
    left_out_.clear();
    stale_ = true;
    ask();
}

void FlexSums::ask() {
    if (!std::exchange(stale_, false)) return;
    stop();
    struct Asked {
        Result now;
        std::optional<Result> fitted; ///< to be set beside Trial
        std::optional<job::Job> other;
        flex::Protocol protocol;
        study::FlexState::What chosen;
        double longer;
        std::vector<study::FlexState::What> left_out;
    };
    Asked asked{document_.computed(),
                {},
                other_,
                protocol_,
                shown() ? shown()->of.what : study::FlexState::What(),
                longer_,
                left_out_};
    if (document_.look() == Look::Trial) asked.fitted = document_.computed(Look::Fitted);
    worker_.start([this, asked = std::move(asked)](const auto& cancelled, const auto& post) {
        auto states =
            study::flex_states(*asked.now.of, asked.now.setup(), asked.other ? &*asked.other : nullptr, asked.longer);
        std::erase_if(states, [&](const study::FlexState& s) {
            return std::ranges::find(asked.left_out, s.what) != asked.left_out.end();
        });
        constexpr auto fitted_kind = study::FlexState::What::Kind::Fitted;
        if (asked.fitted) { // among them, so that all change lanes alike
            study::FlexState& state = states.emplace_back();
            state.what.kind = fitted_kind;
            state.vehicle = asked.fitted->vehicle();
            state.setup = asked.fitted->setup();
        }
        auto all = study::flex_all(states, asked.protocol, cancelled);
        std::optional<study::FlexResult> fitted;
        if (asked.fitted && !all.empty() && all.back().of.what.kind == fitted_kind) {
            fitted = std::move(all.back());
            all.pop_back();
        }
        std::size_t chosen = 0;
        for (std::size_t i = 0; i < all.size(); ++i)
            if (all[i].of.what == asked.chosen) chosen = i;
        post([this, all, fitted, chosen] {
            all_ = all;
            fitted_ = fitted;
            chosen_ = chosen;
            start_bands();
            emit changed();
        });
    });
}

void FlexSums::choose(std::size_t state) {
    chosen_ = state;
    start_bands();
    emit changed();
}

} // namespace dervish::app
