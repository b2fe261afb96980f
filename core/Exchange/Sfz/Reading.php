<?php

namespace Pestle\Core\Exchange\Sfz;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Role;
use Pestle\Core\Kit\Zone;

/**
 * Regions of an SFZ file to a kit, where each answers one key, or to an instrument. Samples are named by their paths; what
 * cannot be carried is told, in words, and what is not known at all is kept with its sound.
 */
final class Reading
{
    /** @var array<string, int> what was told, and how often */
    private array $told = [];

    private readonly LayerReading $layers;

    /**
     * @param (\Closure(string): (array{int, int}|null))|null $loop
     * @param (\Closure(string): (int|null))|null             $rootOf
     */
    private function __construct(private readonly string $name, ?\Closure $loop, ?\Closure $rootOf)
    {
        $this->layers = new LayerReading($loop, $rootOf, $this->tell(...));
    }

    /**
     * @param string                                          $as     "kit", "keys", or "" for the likelier
     * @param \Closure(string): (string|null)                 $open   text of a file by its path from where the SFZ file lies
     * @param (\Closure(string): (array{int, int}|null))|null $loop   first frame of the loop that a sample names itself, and the one after its last
     * @param (\Closure(string): (int|null))|null             $rootOf MIDI note that a sample names itself
     *
     * @return array{KitSheet, list<string>} what it holds, its samples by path, and what could not be carried
     *
     * @throws Unreadable
     */
    public static function of(string $path, \Closure $open, string $as = '', ?\Closure $loop = null, ?\Closure $rootOf = null): array
    {
        [$regions, $text] = Text::regions($path, $open);
        $reading = new self(Fields::fitted((string) preg_replace('/\.sfz$/i', '', basename($path)), 'Kit'), $loop, $rootOf);
        foreach (array_keys($text->unknownHeaders) as $header) {
            $reading->tell('<'.$header.'> sections are left out');
        }
        $regions = $reading->sounding($regions, $text->control);
        if ([] === $regions) {
            throw new Unreadable(\sprintf('%s holds no region with a sample that Pestle could play.', $path));
        }
        $keys = '' === $as ? !self::isKit($regions) : 'keys' === $as;
        $sheet = $keys ? $reading->keys($regions) : $reading->kit($regions);

        return [$sheet, array_map(static fn (string $what, int $often): string => $what.($often > 1 ? \sprintf(' (%d times)', $often) : ''), array_keys($reading->told), array_values($reading->told))];
    }

    private function tell(string $what): void
    {
        $this->told[$what] = 1 + ($this->told[$what] ?? 0);
    }

    /**
     * Those that sound when a key is struck, with nothing else done.
     *
     * @param list<array<string, string>> $regions
     * @param array<string, string>       $control
     *
     * @return list<Region>
     */
    private function sounding(array $regions, array $control): array
    {
        $standing = Standing::of($control, $regions);
        $sounding = [];
        foreach ($regions as $opcodes) {
            if ('' === ($opcodes['sample'] ?? '')) {
                continue;
            }
            $silent = match (true) {
                str_starts_with($opcodes['sample'], '*') => \sprintf('the generated sound %s cannot be played', $opcodes['sample']),
                !\in_array($opcodes['trigger'] ?? 'attack', ['attack', 'first'], true) => \sprintf('sounds with trigger=%s are left out', $opcodes['trigger']),
                default => $standing->silences($opcodes) ?? self::badKey($opcodes),
            };
            if (null !== $silent) {
                $this->tell($silent);
                continue;
            }
            $shift = (int) ($opcodes['note_offset'] ?? 0) + 12 * (int) ($opcodes['octave_offset'] ?? 0);
            $opcodes['sample'] = Text::cleaned(($opcodes['default_path'] ?? '').$opcodes['sample']);
            unset($opcodes['default_path'], $opcodes['note_offset'], $opcodes['octave_offset']);
            $sounding[] = $this->leveled(new Region($standing->settled($opcodes, $this->tell(...)), $shift));
        }

        return $sounding;
    }

    /** @param array<string, string> $opcodes */
    private static function badKey(array $opcodes): ?string
    {
        foreach (['key', 'lokey', 'hikey'] as $name) {
            $value = $opcodes[$name] ?? '0';
            if (!Region::isKey($value) || (is_numeric($value) && ((float) $value < -1 || (float) $value > 127))) {
                return \sprintf('%s=%s is no key: its sound is left out', $name, Fields::fitted($value, '?', 20));
            }
        }

        return null;
    }

    /** With what whole groups add to the level; and with what is done otherwise here told. */
    private function leveled(Region $region): Region
    {
        $more = $region->number('group_volume') + $region->number('master_volume') + $region->number('global_volume');
        foreach (['phase' => 'normal', 'off_mode' => 'fast'] as $name => $usual) {
            if ($region->has($name) && $usual !== $region->text($name)) {
                $this->tell(\sprintf('%s=%s is left out', $name, Fields::fitted($region->text($name), '?', 20)));
            }
        }
        foreach (['fil_type' => '/_(?:1|6)p$/'] as $name => $pattern) {
            if (preg_match($pattern, $region->text($name))) {
                $this->tell(\sprintf('%s=%s falls by 12 or 24 dB an octave here', $name, $region->text($name)));
            }
        }
        if ($region->number('amp_veltrack', 100.0) < 0.0) {
            $this->tell('amp_veltrack below 0: harder strikes are not softer here');
        }
        if ($region->number('delay') > Layer::MOST_DELAY_MS / 1000.0) {
            $this->tell(\sprintf('delay beyond %d s is set to that', intdiv((int) Layer::MOST_DELAY_MS, 1000)));
        }

        return 0.0 === $more ? $region : $region->with('volume', (string) ($region->number('volume') + $more));
    }

    /** @param non-empty-list<Region> $regions */
    private static function isKit(array $regions): bool
    {
        $single = 0;
        $keys = [];
        $once = 0;
        foreach ($regions as $region) {
            [$low, $high] = self::keysOf($region);
            $single += (int) ($low === $high);
            $once += (int) ('one_shot' === $region->text('loop_mode'));
            $keys[$low] = true;
        }

        // As many keys in a row as a piano's are notes, unless they play to their end as drums do.
        return $single > 0.7 * \count($regions) && (\count($keys) < 49 || $once > 0.5 * \count($regions));
    }

    /** @return array{int, int} lowest and highest key */
    private static function keysOf(Region $region): array
    {
        $key = $region->key('key');

        return [max(0, $region->key('lokey', $key ?? 0) ?? 0), $region->key('hikey', $key ?? 127) ?? 127];
    }

    /** @param non-empty-list<Region> $regions */
    private function kit(array $regions): KitSheet
    {
        $byKey = [];
        foreach ($regions as $region) {
            [$low, $high] = self::keysOf($region);
            if ($high < 0) {
                continue;
            }
            if ($high - $low > 11) {
                $this->tell('sounds over more than an octave of keys are put on their lowest key only');
                $high = $low;
            }
            for ($key = $low; $key <= $high; ++$key) {
                $byKey[$key][] = $region;
            }
        }
        ksort($byKey);
        if ([] === $byKey) {
            throw new Unreadable(\sprintf('%s has no key that could be struck.', $this->name));
        }
        // Where they fit into the usual sixteen from C2 on, each keeps its place.
        $places = array_key_first($byKey) >= 36 && array_key_last($byKey) < 36 + Bank::SIZE ? array_combine(array_keys($byKey), array_map(static fn (int $key): int => $key - 36, array_keys($byKey))) : array_flip(array_keys($byKey));
        if (\count($byKey) > Kit::MAX_BANKS * Bank::SIZE) {
            throw new Unreadable(\sprintf('%s has sounds on %d keys.', $this->name, \count($byKey)));
        }
        $pads = $silencedBy = $groups = [];
        foreach ($byKey as $key => $own) {
            $id = KitSheet::bankId(intdiv($places[$key], Bank::SIZE)).$places[$key] % Bank::SIZE;
            $pads[$id] = $this->pad($id, $key, $own);
            // Carried out again it goes back to its key.
            $pads[$id] = $key === Writing::FIRST_KEY + $places[$key] ? $pads[$id] : $pads[$id]->withMain(['kept' => [...\array_slice($pads[$id]->main()->kept, 0, Layer::MOST_KEPT - 1), Writing::KEY => (string) $key]]);
            $groups[$own[0]->text('group')][] = $id;
            $silencedBy[$id] = $own[0]->text('off_by');
        }
        $banks = array_map(static fn (int $i): string => Bank::NAME.' '.($i + 1), range(0, intdiv(max(0, ...array_values($places)), Bank::SIZE)));

        return new KitSheet($this->name, $banks, $this->choked($pads, $groups, $silencedBy));
    }

    /**
     * Groups that silence themselves are choke groups; of others each pad silences those it turns off.
     *
     * @param array<string, Pad>          $pads
     * @param array<string, list<string>> $groups     pads by group
     * @param array<string, string>       $silencedBy group by pad
     *
     * @return array<string, Pad>
     */
    private function choked(array $pads, array $groups, array $silencedBy): array
    {
        $numbers = [];
        foreach ($silencedBy as $id => $by) {
            foreach ('' === $by ? [] : $groups[$by] ?? [] as $other) {
                if (\in_array($id, $groups[$by], true)) {
                    $numbers[$by] ??= 1 + \count($numbers);
                    if ($numbers[$by] <= Pad::CHOKE_GROUPS) {
                        $pads[$id] = $pads[$id]->with(['choke' => $numbers[$by]]);
                    } else {
                        $this->tell(\sprintf('more than %d choke groups', Pad::CHOKE_GROUPS));
                    }
                } elseif (\count($pads[$other]->silences) < Pad::MAX_OTHERS) {
                    $pads[$other] = $pads[$other]->with(['silences' => [...$pads[$other]->silences, $id]]);
                } else {
                    $this->tell(\sprintf('a pad silences at most %d others', Pad::MAX_OTHERS));
                }
            }
        }

        return $pads;
    }

    /** @param non-empty-list<Region> $regions that answer its key */
    private function pad(string $id, int $key, array $regions): Pad
    {
        usort($regions, static fn (Region $a, Region $b): int => [$a->whole('seq_position', 1), $a->number('lorand'), $a->whole('lovel', 1)] <=> [$b->whole('seq_position', 1), $b->number('lorand'), $b->whole('lovel', 1)]);
        if (\count($regions) > Pad::MAX_LAYERS) {
            $this->tell(\sprintf('a pad holds at most %d sounds: of key %d the first are taken', Pad::MAX_LAYERS, $key));
            $regions = \array_slice($regions, 0, Pad::MAX_LAYERS);
            $hardest = max(array_map(static fn (Region $r): int => $r->whole('hivel', 127), $regions));
            if ($hardest < 127) {
                $this->tell(\sprintf('strikes of key %d harder than %d are answered by no sound', $key, $hardest));
            }
        }
        $regions = $this->oneATurn($regions);
        $this->fairly($regions);
        $first = $regions[0];
        $layers = [];
        foreach ($regions as $region) {
            $cents = ($key - ($this->layers->root($region) ?? $region->key('pitch_keycenter', $region->key('key') ?? 60) ?? 60)) * $region->number('pitch_keytrack', 100.0);
            $layers[] = $this->layers->layer($region, (int) round($cents));
        }
        $this->alike($regions, 'pad');
        $name = Fields::fitted($first->text('region_label') ?: $first->text('group_label'), $layers[0]->name);

        return (new Pad($id, $name, Role::tryFrom($first->text(Names::ROLE)) ?? Names::role($name, $key), 'none', $layers))->with([
            'mode' => 'one_shot' === $first->text('loop_mode') ? PlayMode::OneShot : PlayMode::Held,
            'voices' => max(1, min(Pad::MAX_VOICES, $first->whole('note_polyphony', $first->whole('polyphony', Pad::MAX_VOICES)))),
            'strength' => Sounds::strength($first),
            'answer' => $this->answer($regions),
            'layers' => $layers,
            'crossfade' => min(Pad::MOST_CROSSFADE, max(array_map(static fn (Region $r): int => Crossfade::of($r)->width ?? 0, $regions))),
            'treatment' => Sounds::treatment($first, $this->tell(...)),
        ]);
    }

    /**
     * Where sounds answer in turn, one for each: others beside it would become turns of their own.
     *
     * @param non-empty-list<Region> $regions
     *
     * @return non-empty-list<Region>
     */
    private function oneATurn(array $regions): array
    {
        if ([] === array_filter($regions, static fn (Region $r): bool => $r->whole('seq_length', 1) > 1)) {
            return $regions;
        }
        $turns = [];
        foreach ($regions as $region) {
            $turns[$region->whole('seq_position', 1).' '.$region->whole('lovel', 1)] ??= $region;
        }
        if (\count($turns) < \count($regions)) {
            $this->tell('of sounds that answer together within a turn the first is taken');
        }

        return array_values($turns) ?: $regions;
    }

    /** @param list<Region> $regions */
    private function fairly(array $regions): void
    {
        $chances = array_values(array_filter($regions, static fn (Region $r): bool => $r->has('lorand') || $r->has('hirand')));
        $wide = array_map(static fn (Region $r): float => $r->number('hirand', 1.0) - $r->number('lorand'), $chances);
        if ([] === $wide) {
            return;
        }
        if (max($wide) - min($wide) > 0.02) {
            $this->tell('unequal chances become equal');
        }
        $places = array_unique(array_map(static fn (Region $r): string => $r->number('lorand').' '.$r->number('hirand', 1.0), $chances));
        $held = array_sum(array_map(static fn (string $p): float => (float) explode(' ', $p)[1] - (float) explode(' ', $p)[0], $places));
        if ($held < 0.98) {
            $this->tell('chances that no sound answers are shared by those that are there');
        }
    }

    /** @param non-empty-list<Region> $regions */
    private function keys(array $regions): KitSheet
    {
        $zones = [];
        if (\count($regions) > Keys::MAX_ZONES) {
            $this->tell(\sprintf('an instrument holds at most %d recorded notes: the first are taken', Keys::MAX_ZONES));
        }
        foreach (\array_slice($regions, 0, Keys::MAX_ZONES) as $region) {
            [$low, $high] = self::keysOf($region);
            if ($high < $low) {
                continue;
            }
            $track = $region->number('pitch_keytrack', 100.0);
            if (100.0 !== $track) {
                $this->tell(\sprintf('pitch_keytrack=%s: keys are a semitone apart', $region->text('pitch_keytrack')));
            }
            $zones[] = new Zone($this->layers->layer($region, 0), 100 * max(0, $this->layers->root($region) ?? $region->key('pitch_keycenter', $region->key('key') ?? Names::key($region->text('sample')) ?? 60) ?? 60), $low, $high);
        }
        if ([] === $zones) {
            throw new Unreadable(\sprintf('%s has no key that could be played.', $this->name));
        }
        $this->alike($regions, 'instrument');
        $this->fairly($regions);
        foreach (['group', 'off_by'] as $name) {
            if ([] !== array_filter($regions, static fn (Region $r): bool => '' !== $r->text($name) && '0' !== $r->text($name))) {
                $this->tell(\sprintf('%s of an instrument is left out: its notes do not silence one another', $name));
            }
        }
        if ([] !== array_filter($regions, static fn (Region $r): bool => ((Crossfade::of($r)->width ?? 0) > 0) || $r->has('xfin_lokey') || $r->has('xfout_hikey'))) {
            $this->tell('crossfades of an instrument become edges');
        }
        $first = $regions[0];
        $keys = (new Keys($zones, 'none'))->with([
            'held' => 'one_shot' !== $first->text('loop_mode'),
            'single' => 1 === $first->whole('polyphony'),
            'voices' => max(1, min(Keys::MAX_VOICES, $first->whole('polyphony', Keys::MAX_VOICES))),
            'strength' => Sounds::strength($first),
            'answer' => $this->answer($regions),
            'treatment' => Sounds::treatment($first, $this->tell(...)),
        ]);

        return new KitSheet($this->name, [], [], $keys);
    }

    /** @param non-empty-list<Region> $regions */
    private function answer(array $regions): Answer
    {
        $turns = $chances = $strengths = false;
        foreach ($regions as $region) {
            $turns = $turns || $region->whole('seq_length', 1) > 1;
            $chances = $chances || $region->number('lorand') > 0.0 || $region->number('hirand', 1.0) < 1.0;
            $strengths = $strengths || $region->whole('lovel', 0) > 1 || $region->whole('hivel', 127) < 127 || null !== Crossfade::of($region);
        }

        return match (true) {
            1 === \count($regions) => $strengths ? Answer::Strength : Answer::All,
            $turns => Answer::Turn,
            $chances => Answer::Chance,
            $strengths => Answer::Strength,
            default => Answer::All,
        };
    }

    /** @param list<Region> $regions */
    private function alike(array $regions, string $what): void
    {
        foreach ($regions as $region) {
            if (!$region->sameAs($regions[0], '/^(?:ampeg_|fileg_|pitcheg_|amplfo_|pitchlfo_|fillfo_|cutoff$|resonance$|fil_|amp_veltrack$)/')) {
                $this->tell(\sprintf('sounds of one %s share their envelopes and filter: those of the first are taken', $what));

                return;
            }
        }
    }
}
