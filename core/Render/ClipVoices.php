<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Song\Clip;
use Pestle\Core\Theory\TempoMap;

/** What lies on the tracks of a song as voices: each from its place on, to its end. */
final readonly class ClipVoices
{
    private Placing $placing;
    private Treatment $plain;
    private TempoMap $song;

    public function __construct(private Beat $beat, private PadSounds $sounds)
    {
        $this->placing = new Placing($beat, $sounds);
        $this->plain = new Treatment();
        $this->song = Timeline::song($beat);
    }

    /**
     * @param int      $start frame at which the passage begins
     * @param TempoMap $time  of the passage, from there
     * @param bool     $wraps whether it goes round
     *
     * @return array<string, list<Voice>> by track
     */
    public function of(Passage $passage, int $start, TempoMap $time, bool $wraps = false): array
    {
        $voices = [];
        foreach ($passage->clips as [$clip, $tick]) {
            $voice = $this->voice($clip, $start + $time->frames($tick, Beat::SAMPLE_RATE), $wraps);
            if (null !== $voice) {
                $voices[$clip->track][] = $voice;
            }
        }

        return $voices;
    }

    private function voice(Clip $clip, int $frame, bool $wraps): ?Voice
    {
        $edits = $this->beat->edits[$clip->sample] ?? new Edits();
        [$edits, $from, $to, $early] = $clip->heard($edits, $edits->length($this->sounds->recorded($clip->sample)), $this->song);
        $sound = $this->sounds->playable($edits->of($clip->sample), $from);
        $stretch = $this->sounds->stretch($sound, 0);
        $frame -= (int) round($early * $stretch);
        // What would be heard before the song begins is not; what goes round is heard at its end.
        $lost = $wraps ? 0 : max(0, -$frame);
        $first = (int) round($from * $stretch) + $lost;
        $gain = Decibels::toGain($clip->levelDb);

        return $this->placing->voice(new Sounding($sound, 0, $first, max(1, (int) round($to * $stretch) - $first), null, null, null), $frame + $lost, null, $this->plain, false, null, $wraps, $gain, $gain);
    }
}
