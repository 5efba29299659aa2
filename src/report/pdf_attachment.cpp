#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFEFStreamObjectHelper.hh>
#include <qpdf/QPDFEmbeddedFileDocumentHelper.hh>
#include <qpdf/QPDFFileSpecObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include "report/pdf_attachment.h"

namespace bq {
inline namespace report {

std::string with_attachment(const std::string& pdf, const std::string& name,
                            const std::string& bytes, const std::string& date) {
  QPDF document;
  document.processMemoryFile("report", pdf.data(), pdf.size());
  auto stream = QPDFEFStreamObjectHelper::createEFStream(document, bytes);
  stream.setSubtype("text/csv");
  const std::string day =
      "D:" +
      (date.size() == 10 ? date.substr(0, 4) + date.substr(5, 2) + date.substr(8, 2) : "20000101") +
      "000000Z";
  stream.setCreationDate(day);
  stream.setModDate(day);
  auto file = QPDFFileSpecObjectHelper::createFileSpec(document, name, stream);
  file.setDescription("All readings of the trial, one a row");
  QPDFEmbeddedFileDocumentHelper files(document);
  files.replaceEmbeddedFile(name, file);
  QPDFWriter writer(document);
  writer.setOutputMemory();
  writer.setDeterministicID(true);
  writer.write();
  const auto out = writer.getBufferSharedPointer();
  return {reinterpret_cast<const char*>(out->getBuffer()), out->getSize()};
}

}  // namespace report
}  // namespace bq
