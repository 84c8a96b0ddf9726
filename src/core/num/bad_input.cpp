#include "core/num/bad_input.h"

#include <utility>

namespace dervish {

BadInput::BadInput(std::string where, std::string what_is_wrong, std::string accepted)
    : std::runtime_error(where + ": " + what_is_wrong + "; " + accepted), where_(std::move(where)),
      problem_(std::move(what_is_wrong)), accepted_(std::move(accepted)) {}

} // namespace dervish
