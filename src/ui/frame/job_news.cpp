#include "ui/frame/job_news.h"

#include <new>

#include "store/project_file.h"

namespace bq::ui {

QString words_of_exception() {
  try {
    throw;
  } catch (const StoreError& error) {
    return QString::fromUtf8(error.what());
  } catch (const std::bad_alloc&) {
    return JobNews::tr(
        "There is not enough memory for this. It was not done; everything that was "
        "kept is safe. Close what else needs memory and try again.");
  } catch (const std::exception& error) {
    return JobNews::tr("This could not be done: %1. Everything that was kept is safe.")
        .arg(QString::fromUtf8(error.what()));
  } catch (...) {
    return JobNews::tr("This could not be done. Everything that was kept is safe.");
  }
}

JobNews& JobNews::of_this_program() {
  static JobNews news;
  return news;
}

}  // namespace bq::ui
