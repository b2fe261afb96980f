<?php

namespace Pestle\Core\Exchange\Sfz;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;

/** The sound of a region as a layer: what cannot be carried is told, what is not known at all is kept with it. */
final readonly class LayerReading
{
    /** Opcodes that say what Pestle does anyway, or what only other programs show. */
    private const SILENTLY = '/^(?:lochan|hichan|lobend|hibend|bend_(?:up|down|step)|loprog|hiprog|(?:lo|hi)(?:chan|poly)aft|ampeg_start|pitcheg_start|fileg_start|polyphony_group|rt_decay|volume_.*|sustain_sw|sostenuto_sw|note_selfmask|rt_dead|trigger|sw_vel|phase|(?:group|master|global)_volume|image.*|label_.*|.*_label|hint_.*|amp_keycenter|fil_keycenter|off_time|off_mode|output|region_label)$/';
    private const FROM_FILE = 1 << 36;

    /**
     * @param (\Closure(string): (array{int, int}|null))|null $loop   first frame of the loop that a sample names itself, and the one after its last
     * @param (\Closure(string): (int|null))|null             $rootOf MIDI note that a sample names itself
     * @param \Closure(string): void                          $tell   takes what could not be carried
     */
    public function __construct(private ?\Closure $loop, private ?\Closure $rootOf, private \Closure $tell)
    {
    }

    /** @param int $cents by which its key lies above where it was recorded */
    public function layer(Region $region, int $cents): Layer
    {
        $sample = $region->text('sample');
        $tune = $cents + 100 * $region->whole('transpose') + $region->whole('tune');
        $level = $region->number('volume');
        [$leastDb, $mostDb] = [Layer::parameters()['levelDb']->least, Layer::parameters()['levelDb']->most];
        foreach ([['volume', $level < $leastDb || $level > $mostDb], ['tune', abs($tune) > Pad::MAX_TUNE_CENTS]] as [$what, $beyond]) {
            if ($beyond) {
                ($this->tell)($what.' beyond what Pestle allows is set to its bound');
            }
        }
        $start = max(0, $region->whole('offset'));
        $end = $region->has('end') ? 1 + $region->whole('end') : self::FROM_FILE;
        $fade = Crossfade::of($region);
        foreach (['width', 'position'] as $lost) {
            if ($region->has($lost)) {
                ($this->tell)($lost.' is left out');
            }
        }
        $layer = (new Layer(Fields::fitted((string) preg_replace('/\.\w{1,5}$/', '', basename($sample)), 'Sound'), $sample, $start, max($start + 1, $end)))->with([
            'levelDb' => max($leastDb, min($mostDb, $level)),
            'pan' => max(-1.0, min(1.0, $region->number('pan') / 100.0)),
            'tuneCents' => max(-Pad::MAX_TUNE_CENTS, min(Pad::MAX_TUNE_CENTS, $tune)),
            'reversed' => 'reverse' === $region->text('direction'),
            'delayMs' => max(0.0, min(Layer::MOST_DELAY_MS, 1000.0 * $region->number('delay'))),
            'low' => $low = $fade->low ?? max(1, min(127, $region->whole('lovel', 1))),
            'high' => max($low, $fade->high ?? min(127, $region->whole('hivel', 127))),
            ...$this->loop($region, $start, $end),
        ]);

        return $layer->with(['kept' => $this->rest($region)]);
    }

    /** The note that the sample's own file names, where the region leaves it to that. */
    public function root(Region $region): ?int
    {
        return 'sample' !== $region->text('pitch_keycenter') || null === $this->rootOf ? null : ($this->rootOf)($region->text('sample'));
    }

    /** @return array{loopStart?: int, loopEnd?: int} as it is said, or else as the sample's own file names it */
    private function loop(Region $region, int $start, int $end): array
    {
        if (!\in_array($region->text('loop_mode', 'loop_continuous'), ['loop_continuous', 'loop_sustain'], true)) {
            return [];
        }
        // Without an end it goes round to the end of the sample.
        $to = $region->has('loop_end') ? 1 + $region->whole('loop_end') : self::FROM_FILE;
        [$from, $to] = $region->has('loop_end') || $region->has('loop_start') ? [$region->whole('loop_start'), $to] : (null === $this->loop ? null : ($this->loop)($region->text('sample'))) ?? [0, 0];

        return $to > $from + 1 && $from >= $start ? ['loopStart' => $from, 'loopEnd' => min($end, $to)] : [];
    }

    /** @return array<string, string> what nobody knows, which is told and kept */
    private function rest(Region $region): array
    {
        Sounds::treatment($region, static function (): void {});
        Sounds::strength($region);
        foreach (['key', 'lokey', 'hikey', 'pitch_keycenter', 'pitch_keytrack', 'group', 'off_by', 'note_polyphony', 'polyphony', 'lorand', 'hirand', 'seq_position', 'loop_start', 'loop_end', 'seq_length', 'lovel', 'hivel', 'width', 'position', 'xfin_lovel', 'xfin_hivel', 'xfout_lovel', 'xfout_hivel', 'xfin_lokey', 'xfin_hikey', 'xfout_lokey', 'xfout_hikey', 'sw_last', 'sw_default', 'sw_lokey', 'sw_hikey', 'sw_label', Names::ROLE] as $known) {
            $region->text($known);
        }
        $rest = array_filter($region->rest(), static fn (string $name): bool => !preg_match(self::SILENTLY, $name) && !preg_match('/^(?:lo|hi)cc\d+$/', $name), \ARRAY_FILTER_USE_KEY);
        foreach (array_keys($rest) as $name) {
            ($this->tell)($name.' is not known here, and kept as it is');
        }

        return \array_slice(array_filter(array_map(static fn (string $value): string => Fields::fitted($value, '', Layer::LONGEST_KEPT), $rest), static fn (string $v): bool => '' !== $v), 0, Layer::MOST_KEPT);
    }
}
