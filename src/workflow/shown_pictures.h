#pragma once

#include <functional>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "report/micrograph_drawing.h"
#include "store/picture_store.h"
#include "trial/trial.h"
#include "workflow/lens_study.h"

/// Pictures as a report shows them.
namespace bq::inline workflow {

/// Measured pictures of edges that go into the report, the newest first, at most `most`.
std::vector<const Micrograph*> report_pictures(const Trial& trial, std::size_t most = 12);
/// All of a picture.
PicturePart whole_picture(const Micrograph& micrograph);
/// The part of a picture that its measures lie in, with a quarter around it, no smaller than 480 ×
/// 360 px; all of a picture that they fill for the most part.
PicturePart measured_part(const Micrograph& micrograph);
/// What a report shows of a picture: a PNG of `part`, pixels of the original.
struct ReportPicture {
  std::string png;
  PicturePart part;
};
/// Cuts a part out of a picture file, as PNG, at most `longest` px on its longer side; "" where it
/// cannot be read.
using CutPicture =
    std::function<std::string(std::string_view file, const PicturePart& part, int longest)>;
/// Puts what a page can show in place of the thumbnails of measured pictures: a PNG of at most 2 MB
/// and 1,600 px as it is, of any other the measured part by `cut`. One whose file is damaged keeps
/// its thumbnail; `check` names it. Reads and decodes files: for workers.
void show_whole(std::map<std::int64_t, ReportPicture>& pictures, const Trial& trial,
                const PictureStore& files, const CutPicture& cut);
/// A picture with its measures.
MicrographFigure figure_of(const Trial& trial, const Micrograph& micrograph,
                           const ReportPicture& picture);

}  // namespace bq::inline workflow
