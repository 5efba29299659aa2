#pragma once

#include <cstddef>
#include <memory>
#include <span>
#include <utility>
#include <vector>

namespace bq::inline quantity {

/// A list that is made once and that copies share: a bench of a thousand runs is copied with every
/// reading that comes in, and what hangs on single runs is not.
template <class T>
class SharedList {
 public:
  SharedList() = default;
  SharedList(std::vector<T> list)  // NOLINT: is the same
      : list_(std::make_shared<const std::vector<T>>(std::move(list))) {}
  operator const std::vector<T>&() const { return *list_; }  // NOLINT
  operator std::span<const T>() const { return *list_; }     // NOLINT
  [[nodiscard]] auto begin() const { return list_->begin(); }
  [[nodiscard]] auto end() const { return list_->end(); }
  [[nodiscard]] bool empty() const { return list_->empty(); }
  [[nodiscard]] std::size_t size() const { return list_->size(); }
  [[nodiscard]] const T& front() const { return list_->front(); }
  [[nodiscard]] const T& back() const { return list_->back(); }
  [[nodiscard]] const T& at(std::size_t i) const { return list_->at(i); }
  const T& operator[](std::size_t i) const { return (*list_)[i]; }

 private:
  static const std::shared_ptr<const std::vector<T>>& none() {
    static const auto list = std::make_shared<const std::vector<T>>();
    return list;
  }
  std::shared_ptr<const std::vector<T>> list_ = none();
};

}  // namespace bq::inline quantity
