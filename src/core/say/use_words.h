#pragma once
#include "core/study/use.h"

#include <string>

namespace dervish::say {
/// "hill sprint", and why such a car is set up so.
struct UseWords {
    const char* name;
    const char* reason;
};
UseWords words_of(job::Use use);
} // namespace dervish::say
