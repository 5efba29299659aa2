#include "ui/frame/guide_page.h"

#include <QFile>
#include <QPainter>
#include <QSvgRenderer>
#include <QTextBlock>
#include <QTextTable>

#include "ui/theme/theme.h"

namespace bq::ui {

namespace {

constexpr int kLeading_percent = 128, kParagraphGap = 9, kSectionGap = 18, kFormulaIndent = 24,
              kCellRoom = 5;

void lay_out(QTextTable& table, const QColor& line) {
  QTextTableFormat format = table.format();
  format.setBorderCollapse(true);
  format.setBorder(0.5);
  format.setBorderBrush(line);
  format.setCellPadding(kCellRoom);
  format.setCellSpacing(0);
  format.setBottomMargin(kSectionGap);
  format.setWidth(QTextLength(QTextLength::PercentageLength, 100));
  table.setFormat(format);
}

/// A paragraph that is one picture: a formula that stands by itself.
bool is_formula(const QTextBlock& block) {
  return block.length() == 2 && block.begin().fragment().charFormat().isImageFormat();
}

/// What leads on is seen to.
void underline_links(const QTextBlock& block) {
  for (auto it = block.begin(); !it.atEnd(); ++it) {
    if (!it.fragment().charFormat().isAnchor()) continue;
    QTextCursor cursor(block);
    cursor.setPosition(it.fragment().position());
    cursor.setPosition(it.fragment().position() + it.fragment().length(), QTextCursor::KeepAnchor);
    QTextCharFormat format;
    format.setFontUnderline(true);
    cursor.mergeCharFormat(format);
  }
}

}  // namespace

GuidePage::GuidePage(QWidget* parent) : QTextBrowser(parent) {
  setOpenLinks(false);  // the guide is read in here, without a network
}

void GuidePage::show_chapter(const QString& markdown) {
  setMarkdown(markdown);
  document()->setDocumentMargin(kSectionGap);
  QTextCursor cursor(document());
  for (QTextBlock block = document()->begin(); block.isValid(); block = block.next()) {
    cursor.setPosition(block.position());
    QTextBlockFormat format = block.blockFormat();
    if (cursor.currentTable()) continue;
    const bool formula = is_formula(block);
    // A formula's height is its own; stretched lines would tear a gap above it.
    if (!formula) format.setLineHeight(kLeading_percent, QTextBlockFormat::ProportionalHeight);
    format.setTopMargin(format.headingLevel() > 0 ? kSectionGap : 0);
    format.setBottomMargin(block.textList() ? 3 : kParagraphGap);
    if (formula) format.setLeftMargin(kFormulaIndent);
    cursor.setBlockFormat(format);
    underline_links(block);
  }
  for (QTextFrame* frame : document()->rootFrame()->childFrames())
    if (auto* table = qobject_cast<QTextTable*>(frame))
      lay_out(*table, palette().color(QPalette::Mid));
  moveCursor(QTextCursor::Start);
}

QVariant GuidePage::loadResource(int type, const QUrl& name) {
  const QString file = name.path();
  if (type != QTextDocument::ImageResource || !file.endsWith(QLatin1String(".svg")))
    return QTextBrowser::loadResource(type, name);
  QFile picture(QStringLiteral(":/guide/") + file);
  if (!picture.open(QIODevice::ReadOnly)) return {};
  QByteArray svg = picture.readAll();
  svg.replace("currentColor", palette().color(QPalette::Text).name().toLatin1());
  // What has no colour of its own takes that of the drawing as a whole.
  svg.replace("<svg ", "<svg fill=\"" + palette().color(QPalette::Text).name().toLatin1() + "\" ");
  QSvgRenderer formula(svg);
  if (!formula.isValid()) return {};
  const QSizeF size = formula.viewBoxF().size();
  QImage image((size * devicePixelRatioF()).toSize(), QImage::Format_ARGB32_Premultiplied);
  image.setDevicePixelRatio(devicePixelRatioF());
  image.fill(Qt::transparent);
  QPainter painter(&image);
  painter.setRenderHint(QPainter::Antialiasing);
  formula.render(&painter, QRectF(QPointF(), size));
  return image;
}

}  // namespace bq::ui
