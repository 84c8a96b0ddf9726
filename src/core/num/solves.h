#pragma once

namespace dervish {

/// How many bars and equilibria this thread has solved. A test asks it of what must not solve anything: painting.
inline thread_local unsigned long solves = 0;

} // namespace dervish
