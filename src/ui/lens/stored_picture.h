#pragma once

#include "pixels/picture_loader.h"
#include "store/picture_store.h"

namespace bq::ui {

/// A picture of the project, read and decoded; its `fault` says why there are no pixels. For
/// workers.
DecodedPicture read_stored(const PictureStore& pictures, std::int64_t id,
                           const std::function<bool()>& stop);

}  // namespace bq::ui
