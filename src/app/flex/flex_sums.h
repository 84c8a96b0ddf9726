#pragma once
#include "app/document.h"
#include "app/worker.h"
#include "core/study/flex.h"
#include "core/sure/bands.h"
#include "core/sure/questions.h"

namespace dervish::app {

/// Every state of the bars on one ground, worked out by a worker after the last change while someone looks.
class FlexSums : public QObject {
    Q_OBJECT

public:
    explicit FlexSums(Document& document, QObject* parent);
    const flex::Protocol& protocol() const { return protocol_; }
    void set_protocol(const flex::Protocol& protocol);
    /// Another job, read only: its Fitted goes on the same ground. Throws BadInput; empty path: none.
    void set_other(const std::filesystem::path& path);
    void set_longer(double m); ///< the dampers that could be bought
    /// Leaves the chosen state out of the comparison, but for the setup as it is; all of them again.
    void leave_out();
    void take_all();
    bool left_any_out() const { return !left_out_.empty(); }
    bool has_other() const { return other_.has_value(); }
    void ask(); ///< has the results brought up to date, by a worker; changed() tells when they are
    const std::vector<study::FlexResult>& all() const {
        return all_;
    } ///< the setup looked at first; empty: none computed
    std::size_t chosen() const { return chosen_; }
    void choose(std::size_t state);
    const study::FlexResult* shown() const { return chosen_ < all_.size() ? &all_[chosen_] : nullptr; }
    /// Of the shown state's reach and travels (sure::flex_bands), once a worker has them.
    const sure::Bands* bands() const { return bands_ ? &*bands_ : nullptr; }
    /// What the shown state changes of Fitted's reach on the same ground. Nothing until it is worked out, while Fitted is
    /// looked at, or where either does not end.
    const std::optional<sure::Change>& change() const { return change_; }
    void finish(); ///< waits for all of it: pictures and tests
    const std::optional<study::FlexResult>& fitted() const { return fitted_; } ///< while Trial is looked at

signals:
    void changed();

private:
    void start_bands();
    void stop();
    Document& document_;
    flex::Protocol protocol_;
    std::optional<job::Job> other_;
    std::vector<study::FlexResult> all_;
    std::optional<study::FlexResult> fitted_;
    std::size_t chosen_ = 0;
    double longer_ = study::longer_dampers;
    std::vector<study::FlexState::What> left_out_;
    bool stale_ = true;
    std::optional<sure::Bands> bands_;
    std::optional<sure::Change> change_;
    Worker bands_worker_, worker_; ///< last: they end before what they post to
};

} // namespace dervish::app
