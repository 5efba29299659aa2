#pragma once

class QString;

namespace bq::inline voice {

/// What the voice library offers, by name (extern "C"): it is loaded only where somebody switched
/// it on, so that nobody else waits for a speech service or a sound card at the start.
///
/// `bq_speak`: says a sentence, and stops the one before; empty: only stops. False, with `why`,
/// where there is no speech service.
using Speak = bool (*)(const QString& sentence, QString& why);
/// `bq_tone`: a short tone of so many Hz and ms, after those that sound already. False where there
/// is no sound card.
using Tone = bool (*)(int hertz, int milliseconds);

}  // namespace bq::inline voice
