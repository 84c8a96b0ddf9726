#pragma once

/// In a large type's definition: its constructors, copies, moves and end are compiled once, in the file that has
/// DERVISH_COMPILED_HERE(T), where the compiler would write them into every file that uses the type.
#define DERVISH_COMPILED_ONCE(T)                                                                                       \
    T();                                                                                                               \
    ~T();                                                                                                              \
    T(const T&);                                                                                                       \
    T(T&&) noexcept;                                                                                                   \
    T& operator=(const T&);                                                                                            \
    T& operator=(T&&) noexcept

#define DERVISH_COMPILED_HERE(T)                                                                                       \
    T::T() = default;                                                                                                  \
    T::~T() = default;                                                                                                 \
    T::T(const T&) = default;                                                                                          \
    T::T(T&&) noexcept = default;                                                                                      \
    T& T::operator=(const T&) = default;                                                                               \
    T& T::operator=(T&&) noexcept = default
