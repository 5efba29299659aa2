#include "ui/frame/hand_over.h"

#include <QCoreApplication>
#include <QMetaObject>
#include <memory>
#include <utility>

#if defined(__SANITIZE_THREAD__)
#define BQ_THREAD_SANITIZER 1
#elif defined(__has_feature)
#if __has_feature(thread_sanitizer)
#define BQ_THREAD_SANITIZER 1
#endif
#endif

#if defined(BQ_THREAD_SANITIZER)
// Qt comes without the sanitizer's instrumentation: that its event queue orders the two threads has
// to be said here, or every result would be reported.
extern "C" void __tsan_release(void* address);
extern "C" void __tsan_acquire(void* address);
#endif

namespace bq::ui {

void hand_over(std::function<void()> act) {
  QCoreApplication* const window = QCoreApplication::instance();
  if (!window) return;  // the program is ending: nobody is left to see it
  const auto parcel = std::make_shared<std::function<void()>>(std::move(act));
#if defined(BQ_THREAD_SANITIZER)
  __tsan_release(parcel.get());
#endif
  QMetaObject::invokeMethod(
      window,
      [parcel] {
#if defined(BQ_THREAD_SANITIZER)
        __tsan_acquire(parcel.get());
#endif
        (*parcel)();
      },
      Qt::QueuedConnection);
}

}  // namespace bq::ui
