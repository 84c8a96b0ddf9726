#pragma once
#include "core/job/job.h"

/// What a person does with whole setups, the shelf and the bar on Trial.
namespace dervish::edit {
using namespace job;

/// Trial is Fitted again, under the name "trial".
void begin_trial_again(Job& job);
/// Trial among the kept setups, in place of one of its name.
void keep_trial(Job& job);
/// A kept setup on Trial; nothing where none has that name.
void try_kept(Job& job, const std::string& name);
/// What rates are told as times of: Trial or Fitted as it is now.
void call_standard(Job& job, bool trial);

/// Trial goes on the car, or was found on it, with its line in the book.
struct FittedLine {
    std::string date, reason;
    double odometer = 0;   ///< m driven
    bool measured = false; ///< what changes was measured on the car, each by its tool
};
void change_fitted(Job& job, const FittedLine& line, bool found);

/// The bar of Trial or Fitted at one end with what holds it, a copy on the shelf; one of the shelf on Trial, the
/// springs, dampers and tyres of its axle staying. Nothing where the shelf has no such one.
void put_on_shelf(Job& job, bool trial, End end);
void try_from_shelf(Job& job, End end, std::size_t index);

/// Of the bar on Trial: an eye more, inside the last (a guess), or the last one off; up to four, at least one.
void add_eye(Job& job, End end);
void remove_eye(Job& job, End end);
void use_eyes(Job& job, End end, int left, int right);
/// What is at a line of its walk or points.
void set_mark(Job& job, End end, std::size_t line, Mark mark);
/// Another bar in its place with what holds it; a whole setup, under that name.
void put_bar(Job& job, End end, const Assembly& bar);
void put_setup(Job& job, const Setup& setup, const std::string& name);
/// Another size of its own section. m
void set_size(Job& job, End end, double outer_diameter, double wall);
/// A line more of its walk or points (a guess, the bar's end), or the last one off; at least one stays.
void add_bar_line(Job& job, End end);
void remove_bar_line(Job& job, End end);
/// Its centreline by points, eyes in use the outermost.
void take_points(Job& job, End end, const std::vector<PointData>& points);
/// Both radial rates of its bushes, assumed.
void set_bush_rate(Job& job, End end, double rate, double sigma);

/// The sizes that can be had.
void set_stock(Job& job, const std::vector<StockSize>& sizes);

/// Names: of the job with what is felt, of Trial or Fitted. A bar, a load, a part or the car by job::set_words().
void name_job(Job& job, const std::string& name, const std::string& complaint);
void name_setup(Job& job, bool trial, const std::string& name);

/// A complaint heard, or not any more.
void set_heard(Job& job, const std::string& words, bool heard);

} // namespace dervish::edit
