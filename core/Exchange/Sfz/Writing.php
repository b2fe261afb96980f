<?php

namespace Pestle\Core\Exchange\Sfz;

use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Treatment;

/** A kit or an instrument as the text of an SFZ file: a group for each pad, from the key C2 on, and a region for each of its sounds. */
final class Writing
{
    public const FIRST_KEY = 36;
    /** Under this name a pad's first sound keeps the key it came on, where that is another than its place says. */
    public const KEY = 'key';

    /** @var array<string, true> */
    private array $lost = [];

    /** @param array<string, string> $files name of the file of every sample, by its hash, without its folder */
    private function __construct(private readonly KitSheet $sheet, private readonly array $files)
    {
    }

    /**
     * @param array<string, string> $files
     *
     * @return array{string, list<string>} the text, and what it cannot carry
     */
    public static function of(KitSheet $sheet, array $files): array
    {
        $writing = new self($sheet, $files);
        $text = null === $sheet->keys ? $writing->kit() : $writing->keys();

        return ['// '.str_replace("\n", ' ', $sheet->name)."\n<control>\ndefault_path=samples/\n\n".$text, array_keys($writing->lost)];
    }

    private function kit(): string
    {
        $whole = $this->sheet->whole;
        $text = '';
        $keys = $this->keysOfPads();
        foreach ($this->sheet->pads as $id => $own) {
            $pad = $whole->over($own);
            $key = $keys[$id] ?? null;
            if (null === $key) {
                $this->lost['pads beyond the highest of 128 keys'] = true;
                break;
            }
            $group = $this->group($pad);
            $by = $this->turnedOffBy($pad);
            $opcodes = ['key' => (string) $key, 'pitch_keycenter' => (string) $key, 'group_label' => $pad->name, Names::ROLE => $pad->role->value, 'group' => (string) $group, ...null === $by ? [] : ['off_by' => (string) $by], 'note_polyphony' => (string) $pad->voices, ...Sounds::opcodes($pad->treatment, $pad->strength)];
            $this->lose($pad->treatment);
            $this->loseOfPad($pad);
            $text .= self::line('group', $opcodes);
            foreach ($pad->layers as $i => $layer) {
                $text .= self::line('region', [...$this->layer($layer, $pad->levelDb, $pad->pan, $pad->tuneCents, PlayMode::OneShot === $pad->mode, Answer::Strength === $pad->answer ? $pad->crossfade : 0), ...self::turn($pad->answer, $i, \count($pad->layers))]);
            }
            $text .= "\n";
        }

        return $text;
    }

    /** @return array<string, int> for each pad the key it came on; else by its place from C2 on, or the next that is free */
    private function keysOfPads(): array
    {
        $keys = [];
        foreach ($this->sheet->pads as $id => $pad) {
            $key = filter_var($pad->main()->kept[self::KEY] ?? null, \FILTER_VALIDATE_INT, ['options' => ['min_range' => 0, 'max_range' => 127]]);
            if (\is_int($key) && !\in_array($key, $keys, true)) {
                $keys[$id] = $key;
            }
        }
        foreach (array_diff_key($this->sheet->pads, $keys) as $id => $pad) {
            $own = self::FIRST_KEY + self::place($id);
            $free = array_values(array_diff([...$own > 127 ? [] : [$own], ...range(self::FIRST_KEY, 127), ...range(self::FIRST_KEY - 1, 0)], $keys));
            if ([] !== $free) {
                $keys[$id] = $free[0];
            }
        }

        return $keys;
    }

    /** A group is a choke group, or the pad alone. */
    private function group(Pad $pad): int
    {
        return $pad->choke > 0 ? $pad->choke : 100 + (int) array_search($pad->id, array_keys($this->sheet->pads), true);
    }

    /** The one group that silences a pad; more than one, or a part of one, cannot be said. */
    private function turnedOffBy(Pad $pad): ?int
    {
        $silencers = array_filter($this->sheet->pads, static fn (Pad $other): bool => \in_array($pad->id, $other->silences, true));
        $groups = array_values(array_unique(array_map($this->group(...), $silencers)));
        $own = $pad->choke > 0 ? $pad->choke : null;
        $members = array_filter($this->sheet->pads, fn (Pad $other): bool => $this->group($other) === ($groups[0] ?? null));
        if ([] !== $groups && (null !== $own || \count($groups) > 1 || \count($members) > \count($silencers))) {
            $this->lost['pads that are silenced by several others that are no choke group'] = true;
        }

        return $own ?? $groups[0] ?? null;
    }

    private function keys(): string
    {
        $keys = $this->sheet->keys ?? throw new \LogicException('This is a kit.');

        return implode("\n", array_map($this->oneOfStack(...), array_filter($keys->all(), static fn (Keys $one): bool => !$one->blend->silent)));
    }

    private function oneOfStack(Keys $keys): string
    {
        $this->lose($keys->treatment);
        foreach ([[$keys->glideMs > 0, 'glide'], [$keys->even, 'notes that last alike'], [[] !== $keys->routes, 'what notes move'], [$keys->blend->fadeStrengths > 0, 'strengths over which stacked sounds go over into each other']] as [$has, $what]) {
            if ($has) {
                $this->lost[$what] = true;
            }
        }
        $text = self::line('group', ['polyphony' => (string) ($keys->single ? 1 : $keys->voices), ...Sounds::opcodes($keys->treatment, $keys->strength)]);
        foreach ($keys->zones as $i => $zone) {
            $root = (int) round($zone->rootCents / 100);
            $opcodes = [...Crossfade::keys($keys, $zone), 'pitch_keycenter' => (string) $root];
            $sound = $zone->sound->with(['delayMs' => $zone->sound->delayMs + $keys->blend->delayMs, 'low' => max($zone->sound->low, $keys->blend->weakest), 'high' => min($zone->sound->high, $keys->blend->strongest)]);
            if ($sound->low <= min($zone->sound->high, $keys->blend->strongest)) {
                $text .= self::line('region', [...$opcodes, ...$this->layer($sound, $keys->levelDb, 0.0, 100 * $root - $zone->rootCents + $keys->tuneCents, !$keys->held), ...self::turn($keys->answer, $i, \count($keys->zones))]);
            }
        }

        return $text;
    }

    /** @return array<string, string> */
    private function layer(Layer $layer, float $levelDb, float $pan, int $tuneCents, bool $once, int $crossfade = 0): array
    {
        $tune = $tuneCents + $layer->tuneCents;
        $number = static fn (float $value): string => rtrim(rtrim(number_format($value, 4, '.', ''), '0'), '.');
        $out = ['volume' => $number($levelDb + $layer->levelDb), 'pan' => $number(100.0 * max(-1.0, min(1.0, $pan + $layer->pan))), 'transpose' => (string) intdiv($tune, 100), 'tune' => (string) ($tune % 100), 'offset' => (string) $layer->start, 'end' => (string) ($layer->end - 1)];
        $out = array_filter($out, static fn (string $value, string $name): bool => '0' !== $value && '-0' !== $value || 'end' === $name, \ARRAY_FILTER_USE_BOTH);
        if ($layer->low > 1 || $layer->high < 127) {
            $out += $crossfade > 0 ? Crossfade::opcodes($layer, $crossfade) : ['lovel' => (string) $layer->low, 'hivel' => (string) $layer->high];
        }
        if ($layer->reversed) {
            $out['direction'] = 'reverse';
        }
        if ($layer->delayMs > 0.0) {
            $out['delay'] = $number($layer->delayMs / 1000.0);
        }
        $out['loop_mode'] = $once ? 'one_shot' : (null === $layer->loopStart ? 'no_loop' : 'loop_sustain');
        if (null !== $layer->loopStart && !$once) {
            $out += ['loop_start' => (string) $layer->loopStart, 'loop_end' => (string) ($layer->loopEnd - 1)];
        }

        return [...$out, ...array_diff_key($layer->kept, [self::KEY => true]), 'sample' => $this->files[$layer->sample] ?? $layer->sample];
    }

    /** @return array<string, string> */
    private static function turn(Answer $answer, int $i, int $count): array
    {
        return match (true) {
            Answer::Turn === $answer => ['seq_length' => (string) $count, 'seq_position' => (string) ($i + 1)],
            $answer->chooses() => ['lorand' => number_format($i / $count, 6, '.', ''), 'hirand' => number_format(($i + 1) / $count, 6, '.', '')],
            default => [],
        };
    }

    private function lose(Treatment $t): void
    {
        $bent = !$t->amp->isFlat() && (0.0 !== $t->amp->attackBend || 0.5 !== $t->amp->decayBend);
        foreach ([
            [$bent, 'bends of envelopes'],
            [$t->filter->driveDb > 0.0, 'drive'],
            [$t->filter->steep && \in_array($t->filter->shape, [FilterShape::Band, FilterShape::Notch], true), 'band-pass and notch of 24 dB become 12 dB'],
            [0.0 !== $t->pitch->cents && 0.0 !== $t->pitch->bend, 'the bend of the pitch sweep'],
            [$t->env->acts(), 'second envelopes'],
            [FilterShape::Vowel === $t->filter->shape, 'vowels'],
            [[] !== array_filter([$t->lfo1, $t->lfo2], static fn (Lfo $l): bool => $l->acts() && (LfoTarget::Pan === $l->target || 'sine' !== $l->shape->value || $l->ticks > 0)), 'LFOs to pan, in time, or of another shape than sine'],
        ] as [$has, $what]) {
            if ($has) {
                $this->lost[$what] = true;
            }
        }
    }

    private function loseOfPad(Pad $pad): void
    {
        foreach ([[[] !== $pad->along, 'pads that sound along'], [Answer::Fresh === $pad->answer, 'never the same sound twice by chance'], [null !== $pad->colour, 'colours']] as [$has, $what]) {
            if ($has) {
                $this->lost[$what] = true;
            }
        }
    }

    private static function place(string $id): int
    {
        preg_match('/^([a-z]+)(\d+)$/', $id, $m);
        $bank = 0;
        foreach (str_split($m[1] ?? 'a') as $letter) {
            $bank = 26 * $bank + \ord($letter) - 96;
        }

        return 16 * ($bank - 1) + (int) ($m[2] ?? 0);
    }

    /** @param array<string, string> $opcodes */
    private static function line(string $header, array $opcodes): string
    {
        // Its name may have spaces, so that nothing may stand behind it.
        $opcodes = [...array_diff_key($opcodes, ['sample' => 1]), ...array_intersect_key($opcodes, ['sample' => 1])];
        $text = '<'.$header.'>';
        foreach ($opcodes as $name => $value) {
            $text .= ('region' === $header ? ' ' : "\n").$name.'='.str_replace(["\n", "\r"], ' ', $value);
        }

        return $text."\n";
    }
}
