<?php

namespace Pestle\Core\Beat\Codec;

use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Mix\FaderPlace;
use Pestle\Core\Theory\SoundRules;

/** Documents of older formats, raised step by step to the one that is read. What they lacked they get as it was. */
final class OlderFormats
{
    /** The kit of a beat up to format 4, which had one and no name for it. */
    private const KIT = 'part-1';
    private const BAR_TICKS = 3840;

    /**
     * @param array<array-key, mixed> $data of format 1 to 15
     *
     * @return array<array-key, mixed> of format 15
     */
    public static function raised(array $data, int $format): array
    {
        // Format 2 added the edits of samples and sets of slices; format 3 what is said of single slices, layers and direction of
        // pads, and keeping time as an edit. What lacks them reads the same.
        $data += ['edits' => [], 'sliceSets' => []];
        if ($format < 4) {
            $data = self::withNumberedBanks(self::withFaderPlaces($data));
        }

        if ($format < 5) {
            $data = self::withParts($data);
        }

        if ($format < 6) {
            $data = self::withNodes($data);
        }

        if ($format < 7) {
            $data = self::withSounds($data);
        }

        $data = $format < 8 ? self::withFeel($data) : $data;

        // Format 9 added mixes that are kept, and settings of inserts beside those they have; format 10 groups of hits. What lacks them reads the same.
        $data = ['snapshots' => [], ...$data];

        // What was made up to format 10 sounds by the rules of that time.
        $data = $format < 11 ? ['rules' => SoundRules::First->value, ...$data] : $data;

        $data = $format < 12 ? self::withMovements($data) : $data;

        // Format 14 added instruments that are made of waves; format 15 stacks, second envelopes and what notes move. What lacks them reads the same.
        return $format < 13 ? self::withEntries($data) : $data;
    }

    /**
     * Up to format 12 a section was repeated as often wherever it came in the song, which was a list of their ids, and
     * nothing lay over it.
     *
     * @param array<array-key, mixed> $data
     *
     * @return array<array-key, mixed>
     */
    private static function withEntries(array $data): array
    {
        $sections = self::rows($data['sections'] ?? null);
        $repeats = array_column($sections, 'repeats', 'id');
        $song = [];
        foreach (\is_array($data['song'] ?? null) ? array_values($data['song']) : [] as $i => $id) {
            $song[] = ['id' => 'e'.($i + 1), 'section' => $id, 'repeats' => \is_string($id) ? $repeats[$id] ?? 1 : 1, 'muted' => []];
        }

        return ['tracks' => [], 'clips' => [], 'markers' => [], ...$data, ...isset($data['song']) ? ['song' => $song] : []];
    }

    /**
     * Up to format 11 what moved did so over the song, and by a curve that nothing owned.
     *
     * @param array<array-key, mixed> $data
     *
     * @return array<array-key, mixed>
     */
    private static function withMovements(array $data): array
    {
        $curves = \is_array($data['curves'] ?? null) ? $data['curves'] : [];
        $movements = array_map(static fn (int|string $path, mixed $points): array => ['path' => (string) $path, 'scope' => 'song', 'of' => '', 'points' => $points], array_keys($curves), array_values($curves));
        $kept = array_map(static fn (mixed $mix): mixed => \is_array($mix) ? ['movements' => [], ...$mix] : $mix, \is_array($data['snapshots'] ?? null) ? $data['snapshots'] : []);

        return ['movements' => $movements, 'snapshots' => $kept, ...array_diff_key($data, ['curves' => true, 'snapshots' => true])];
    }

    /**
     * Up to format 7 a pattern had swing and no other feel.
     *
     * @param array<array-key, mixed> $data
     *
     * @return array<array-key, mixed>
     */
    private static function withFeel(array $data): array
    {
        $patterns = array_map(static fn (array $p): array => [...array_diff_key($p, ['swing' => 1]), 'feel' => ['swing' => $p['swing'] ?? null], 'lanes' => []], self::rows($data['patterns'] ?? null));

        return ['grooves' => [], ...$data, ...isset($data['patterns']) ? ['patterns' => $patterns] : []];
    }

    /**
     * Up to format 6 a pad had a sound of its own beside its layers, and one direction for all; an instrument had a
     * straight release and no other shape.
     *
     * @param array<array-key, mixed> $data
     *
     * @return array<array-key, mixed>
     */
    private static function withSounds(array $data): array
    {
        $kit = \is_array($data['kit'] ?? null) ? $data['kit'] : [];
        $pads = [];
        foreach (self::rows($kit['pads'] ?? null) as $pad) {
            $own = array_intersect_key($pad, ['name' => 1, 'sample' => 1, 'start' => 1, 'end' => 1]);
            $layers = [$own, ...self::rows($pad['layers'] ?? null)];
            foreach ($layers as $i => $layer) {
                $n = 'strength' === ($pad['answer'] ?? '') ? \count($layers) : 1;
                $range = 1 === $n ? [] : ['low' => 1 + (int) ceil(127.0 * $i / $n), 'high' => (int) ceil(127.0 * ($i + 1) / $n)];
                $layers[$i] = [...$layer, 'reversed' => $pad['reversed'] ?? false, ...$range];
            }
            $pads[] = [...array_diff_key($pad, ['sample' => 1, 'start' => 1, 'end' => 1, 'reversed' => 1]), 'layers' => $layers, 'along' => [], 'silences' => [], 'treatment' => []];
        }
        $parts = [];
        foreach (self::rows($data['parts'] ?? null) as $part) {
            if (\is_array($part['keys'] ?? null)) {
                $keys = $part['keys'];
                $zone = array_intersect_key($keys, ['sample' => 1, 'start' => 1, 'end' => 1, 'rootCents' => 1, 'loopStart' => 1, 'loopEnd' => 1]);
                $part['keys'] = [...$keys, 'zones' => [['name' => $part['name'] ?? null, ...$zone]], 'treatment' => ['amp' => ['releaseMs' => $keys['releaseMs'] ?? Keys::RELEASE_MS, 'releaseBend' => 0.0]]];
            }
            $parts[] = $part;
        }

        return [...$data, 'kit' => [...$kit, 'pads' => $pads], 'parts' => $parts];
    }

    /**
     * Up to format 5 channels had an equalizer and a compressor, groups and master a compressor, and nothing moved.
     *
     * @param array<array-key, mixed> $data
     *
     * @return array<array-key, mixed>
     */
    private static function withNodes(array $data): array
    {
        $compressor = static fn (array $line, string $id): array => ['kind' => 'compressor', 'id' => $id, 'key' => null, ...\is_array($line['compressor'] ?? null) ? $line['compressor'] : []];
        $mixer = \is_array($data['mixer'] ?? null) ? $data['mixer'] : [];
        $nodes = [];
        foreach (self::rows($mixer['channels'] ?? null) as $channel) {
            $inserts = [['kind' => 'equalizer', 'id' => 'i1', 'on' => true, 'bands' => $channel['eq'] ?? null], $compressor($channel, 'i2')];
            $nodes[] = [...array_diff_key($channel, ['eq' => 1, 'compressor' => 1, 'group' => 1]), 'kind' => 'channel', 'output' => $channel['group'] ?? null, 'inserts' => $inserts, 'sends' => []];
        }
        foreach (self::rows($mixer['groups'] ?? null) as $group) {
            $nodes[] = [...array_diff_key($group, ['compressor' => 1]), 'kind' => 'group', 'inserts' => [$compressor($group, 'i1')], 'sends' => []];
        }
        $master = \is_array($mixer['master'] ?? null) ? $mixer['master'] : [];
        $mixer = ['nodes' => $nodes, 'master' => [...array_diff_key($master, ['compressor' => 1]), 'inserts' => [$compressor($master, 'i1')]]];

        return [...$data, 'mixer' => $mixer, 'curves' => $data['curves'] ?? []];
    }

    /**
     * Up to format 4 a beat was one kit, and an order of its patterns with repeats. Each entry becomes a section; the
     * same one twice is the same section, and patterns that were not in the order have one beside the song.
     *
     * @param array<array-key, mixed> $data
     *
     * @return array<array-key, mixed>
     */
    private static function withParts(array $data): array
    {
        $patterns = $names = $empty = $sections = $song = [];
        foreach (self::rows($data['patterns'] ?? null) as $row) {
            $id = \is_string($row['id'] ?? null) ? $row['id'] : '';
            $ticks = self::BAR_TICKS * (\is_int($row['bars'] ?? null) ? $row['bars'] : 0);
            $names[$id] = \is_string($row['name'] ?? null) ? $row['name'] : $id;
            $empty[$id] = [] === ($row['hits'] ?? []) ? $ticks : null;
            unset($row['bars']);
            $patterns[] = [...$row, 'part' => self::KIT, 'ticks' => $ticks, 'notes' => []];
        }
        $order = self::rows($data['order'] ?? null);
        foreach (array_diff(array_keys($names), array_filter(array_column($order, 'pattern'), is_string(...))) as $unused) {
            $order[] = ['pattern' => $unused, 'repeats' => 1, 'unused' => true];
        }
        $taken = [];
        foreach ($order as $entry) {
            $pattern = \is_string($entry['pattern'] ?? null) ? $entry['pattern'] : '';
            $repeats = $entry['repeats'] ?? 1;
            $key = $pattern.' '.json_encode($repeats);
            if (!isset($sections[$key])) {
                $taken[$pattern] = ($taken[$pattern] ?? 0) + 1;
                $name = ($names[$pattern] ?? $pattern).(1 === $taken[$pattern] ? '' : ' '.$taken[$pattern]);
                // What was empty lasted all the same.
                $sections[$key] = ['id' => 's'.(1 + \count($sections)), 'name' => mb_substr($name, -80), 'patterns' => [self::KIT => $pattern], 'repeats' => $repeats, 'ticks' => $empty[$pattern] ?? null, 'meter' => null, 'muted' => []];
            }
            if (!isset($entry['unused'])) {
                $song[] = $sections[$key]['id'];
            }
        }
        $kit = \is_array($data['kit'] ?? null) ? $data['kit'] : [];
        $kit['banks'] = array_map(static fn (array $bank): array => [...$bank, 'part' => self::KIT], self::rows($kit['banks'] ?? null));
        unset($data['order']);

        return [
            ...$data,
            'meter' => '4/4',
            'parts' => [['id' => self::KIT, 'name' => 'Kit', 'colour' => null, 'keys' => null]],
            'kit' => $kit,
            'patterns' => \is_array($data['patterns'] ?? null) ? $patterns : null,
            'sections' => array_values($sections),
            'song' => $song,
        ];
    }

    /** @return list<array<array-key, mixed>> */
    private static function rows(mixed $list): array
    {
        return \is_array($list) ? array_values(array_filter($list, is_array(...))) : [];
    }

    /**
     * Up to format 3 the levels of groups and master lay before their compressors. Where that is heard, they stay there.
     *
     * @param array<array-key, mixed> $data
     *
     * @return array<array-key, mixed>
     */
    private static function withFaderPlaces(array $data): array
    {
        $placed = static function (mixed $bus): mixed {
            if (!\is_array($bus)) {
                return $bus;
            }
            $compresses = \is_array($bus['compressor'] ?? null) && ($bus['compressor']['on'] ?? false);

            return [...$bus, 'fader' => ($compresses && 0.0 !== (float) (is_numeric($bus['gainDb'] ?? null) ? $bus['gainDb'] : 0.0) ? FaderPlace::Before : FaderPlace::After)->value];
        };
        $mixer = $data['mixer'] ?? null;
        if (\is_array($mixer)) {
            $groups = $mixer['groups'] ?? null;
            $data['mixer'] = [...$mixer, 'groups' => \is_array($groups) ? array_map($placed, $groups) : $groups, 'master' => $placed($mixer['master'] ?? null)];
        }

        return $data;
    }

    /**
     * Up to format 3 a bank without a name of its own had a letter.
     *
     * @param array<array-key, mixed> $data
     *
     * @return array<array-key, mixed>
     */
    private static function withNumberedBanks(array $data): array
    {
        $kit = $data['kit'] ?? null;
        if (\is_array($kit) && \is_array($kit['banks'] ?? null)) {
            foreach ($kit['banks'] as $i => $bank) {
                $id = \is_array($bank) && \is_string($bank['id'] ?? null) ? $bank['id'] : '';
                if (\is_array($bank) && 'Bank '.strtoupper($id) === ($bank['name'] ?? null)) {
                    $kit['banks'][$i] = [...$bank, 'name' => \sprintf('%s %d', Bank::NAME, (int) $i + 1)];
                }
            }
            $data['kit'] = $kit;
        }

        return $data;
    }
}
