#pragma once
#include <stdexcept>
#include <string>

namespace dervish {

/// The one exception for input that cannot be used. `where` is the field's path in the job (or a part of one, completed
/// by whoever knows the rest), `what_is_wrong` names the offending value, `accepted` says what would be right.
class BadInput : public std::runtime_error {
public:
    BadInput(std::string where, std::string what_is_wrong, std::string accepted);

    const std::string& where() const { return where_; }
    const std::string& problem() const { return problem_; }
    const std::string& accepted() const { return accepted_; }

    /// The same complaint, told from one level further out.
    BadInput within(const std::string& outer) const { return {outer + "/" + where_, problem_, accepted_}; }

private:
    std::string where_, problem_, accepted_;
};

/// What f returns; what it finds wrong is told from one level further out.
template <class F> auto told_within(const std::string& where, F&& f) {
    try {
        return f();
    } catch (const BadInput& e) {
        throw e.within(where);
    }
}

} // namespace dervish
