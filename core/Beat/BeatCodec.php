<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\Channel;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\FaderPlace;
use Pestle\Core\Mix\Group;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Order;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Swing;
use Pestle\Core\Theory\Tempo;

/**
 * A beat as canonical JSON: the same beat always gives the same bytes. Described in docs/formats.md.
 * A later format gets a number of its own, and what reads this one stays.
 */
final class BeatCodec
{
    public const FORMAT = 4;

    public static function encode(Beat $beat): string
    {
        return self::json(self::toArray($beat));
    }

    /** @throws InvalidChange when it isn't a beat this version can read */
    public static function decode(string $json): Beat
    {
        $data = json_decode($json, true, 64);
        if (!\is_array($data)) {
            throw new InvalidChange('This is not a beat: the JSON cannot be read.');
        }
        $format = $data['format'] ?? null;

        return match ($format) {
            1 => self::fromFormat1(self::withNumberedBanks(self::withFaderPlaces($data))),
            2, 3 => self::fromFormat2(self::withNumberedBanks(self::withFaderPlaces($data))),
            4 => self::fromFormat2($data),
            default => throw new InvalidChange(\sprintf('This beat has format %s; this version of Pestle reads formats 1 to %d.', \is_int($format) ? (string) $format : 'unknown', self::FORMAT)),
        };
    }

    public static function json(mixed $value): string
    {
        return json_encode($value, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_PRESERVE_ZERO_FRACTION);
    }

    /** @return array<string, mixed> */
    public static function toArray(Beat $beat): array
    {
        return [
            'format' => self::FORMAT,
            'name' => $beat->name,
            'tempo' => $beat->tempo->bpm,
            'key' => $beat->key?->name(),
            'seed' => $beat->seed,
            'kit' => [
                'banks' => array_map(static fn (Bank $b): array => ['id' => $b->id, 'name' => $b->name], $beat->kit->banks),
                'pads' => array_map(static fn (Pad $p): array => $p->toArray(), array_values($beat->kit->pads)),
            ],
            'patterns' => array_map(static fn (Pattern $p): array => [
                'id' => $p->id,
                'name' => $p->name,
                'bars' => $p->bars,
                'swing' => $p->swing->percent,
                'hits' => array_map(static fn (Hit $h): array => $h->toArray(), $p->hits),
            ], array_values($beat->patterns)),
            'order' => $beat->order->parts,
            'mixer' => [
                'channels' => array_map(static fn (Channel $c): array => $c->toArray(), array_values($beat->mixer->channels)),
                'groups' => array_map(static fn (Group $g): array => $g->toArray(), array_values($beat->mixer->groups)),
                'master' => $beat->mixer->master->toArray(),
            ],
            'slices' => array_map(static fn (string $hash, Slices $s): array => ['sample' => $hash, ...$s->toArray()], array_keys($beat->slices), array_values($beat->slices)),
            'edits' => array_map(static fn (string $hash, Edits $e): array => ['sample' => $hash, 'list' => $e->toArray()], array_keys($beat->edits), array_values($beat->edits)),
            'sliceSets' => self::sliceSets($beat),
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function sliceSets(Beat $beat): array
    {
        $rows = [];
        foreach ($beat->sliceSets as $hash => $sets) {
            foreach ($sets as $name => $slices) {
                $rows[] = ['sample' => $hash, 'name' => (string) $name, ...$slices->toArray()];
            }
        }

        return $rows;
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

    /**
     * Format 2 adds the edits of samples, and sets of slices that are kept. Format 3 adds what is said of single slices,
     * layers and direction of pads, and keeping time as an edit; what lacks them reads the same.
     *
     * @param array<array-key, mixed> $data
     */
    private static function fromFormat2(array $data): Beat
    {
        $edits = [];
        foreach ((new Fields($data))->rows('edits', 5000) as $row) {
            $edits[$row->hash('sample')] = EditFields::read($row, 'list');
        }

        $sets = [];
        foreach ((new Fields($data))->rows('sliceSets', 5000) as $row) {
            $sets[$row->hash('sample')][$row->text('name', 40)] = SliceFields::read($row);
        }

        return self::fromFormat1($data)->with(['edits' => $edits, 'sliceSets' => $sets]);
    }

    /** @param array<array-key, mixed> $data */
    private static function fromFormat1(array $data): Beat
    {
        $f = new Fields($data);
        $patterns = [];
        foreach ($f->rows('patterns', Beat::MAX_PATTERNS) as $p) {
            $pattern = self::pattern($p);
            $patterns[$pattern->id] = $pattern;
        }
        $slices = [];
        foreach ($f->rows('slices', 5000) as $s) {
            $slices[$s->hash('sample')] = SliceFields::read($s);
        }
        $parts = array_map(
            static fn (Fields $p): array => ['pattern' => $p->id('pattern'), 'repeats' => $p->whole('repeats', 1, Order::MAX_REPEATS)],
            $f->rows('order', Order::MAX_PARTS),
        );

        return new Beat(
            $f->text('name'),
            Tempo::bpm($f->number('tempo', Tempo::MIN, Tempo::MAX)),
            $f->has('key') ? Key::named($f->text('key')) : null,
            self::kit($f->nested('kit')),
            $patterns,
            new Order($parts),
            self::mixer($f->nested('mixer')),
            $slices,
            $f->whole('seed', 0, 1 << 53),
        );
    }

    private static function pattern(Fields $p): Pattern
    {
        return Pattern::of(
            $p->id('id'),
            $p->text('name'),
            $p->whole('bars', 1, Pattern::MAX_BARS),
            Swing::percent($p->number('swing', 50, 75)),
            self::hits($p),
        );
    }

    /** @return list<Hit> */
    public static function hits(Fields $fields): array
    {
        return array_map(static fn (Fields $h): Hit => new Hit(
            $h->whole('0', 0, 10_000_000),
            $h->id('1'),
            $h->whole('2', 1, 127),
            $h->has('3') ? $h->whole('3', 1, 10_000_000) : 240,
            $h->has('4') ? $h->whole('4', 1, 100) : 100,
            $h->has('5') ? $h->whole('5', 0, Hit::FINE - 1) : 0,
            $h->has('6') ? $h->whole('6', 0, Hit::FINE - 1) : 0,
        ), $fields->rows('hits', Pattern::MAX_HITS));
    }

    private static function kit(Fields $kit): Kit
    {
        $banks = array_map(static fn (Fields $b): Bank => new Bank($b->id('id'), $b->text('name')), $kit->rows('banks', Kit::MAX_BANKS));
        if ([] === $banks) {
            throw InvalidChange::field('banks', 'must hold at least one bank.');
        }
        $pads = [];
        foreach ($kit->rows('pads', Kit::MAX_BANKS * Bank::SIZE) as $p) {
            $pads[$p->id('id')] = new Pad(
                $p->id('id'),
                $p->text('name'),
                $p->choice('role', Role::class),
                $p->hash('sample'),
                $p->frame('start'),
                $p->frame('end', 1),
                $p->id('channel'),
                $p->number('levelDb', Pad::MIN_LEVEL_DB, Pad::MAX_LEVEL_DB),
                $p->number('pan', -1, 1),
                $p->whole('tuneCents', -Pad::MAX_TUNE_CENTS, Pad::MAX_TUNE_CENTS),
                $p->choice('mode', PlayMode::class),
                $p->whole('choke', 0, Pad::CHOKE_GROUPS),
                $p->has('reversed') && $p->flag('reversed'),
                $p->has('layers') ? self::layers($p) : [],
                $p->has('answer') ? $p->choice('answer', Answer::class) : Answer::All,
            );
        }

        return Kit::of($banks, $pads);
    }

    /** @return list<Layer> */
    private static function layers(Fields $pad): array
    {
        return array_map(
            static fn (Fields $l): Layer => new Layer($l->text('name'), $l->hash('sample'), $l->frame('start'), $l->frame('end', $l->frame('start') + 1)),
            $pad->rows('layers', Pad::MAX_LAYERS),
        );
    }

    private static function mixer(Fields $mixer): Mixer
    {
        $channels = $groups = [];
        foreach ($mixer->rows('channels', Mixer::MAX_CHANNELS) as $c) {
            $bands = array_map(static fn (Fields $b): EqBand => new EqBand(
                $b->choice('shape', EqShape::class),
                $b->number('hz', EqBand::MIN_HZ, EqBand::MAX_HZ),
                $b->number('gainDb', -EqBand::MAX_GAIN_DB, EqBand::MAX_GAIN_DB),
                $b->number('q', EqBand::MIN_Q, EqBand::MAX_Q),
                $b->flag('on'),
            ), $c->rows('eq', 8));
            $channels[$c->id('id')] = new Channel(
                $c->id('id'),
                $c->text('name'),
                $c->has('group') ? $c->id('group') : null,
                $c->number('gainDb', Channel::MIN_GAIN_DB, Channel::MAX_GAIN_DB),
                $c->number('pan', -1, 1),
                $c->flag('mute'),
                $c->flag('solo'),
                $bands,
                self::compressor($c->nested('compressor')),
            );
        }
        foreach ($mixer->rows('groups', 50) as $g) {
            $groups[$g->id('id')] = new Group(
                $g->id('id'),
                $g->text('name'),
                $g->number('gainDb', Channel::MIN_GAIN_DB, Channel::MAX_GAIN_DB),
                $g->flag('mute'),
                self::compressor($g->nested('compressor')),
                $g->choice('fader', FaderPlace::class),
            );
        }
        $m = $mixer->nested('master');

        return new Mixer($channels, $groups, new Master(
            $m->number('gainDb', Master::MIN_GAIN_DB, Master::MAX_GAIN_DB),
            $m->number('ceilingDb', Master::MIN_CEILING_DB, Master::MAX_CEILING_DB),
            self::compressor($m->nested('compressor')),
            $m->choice('fader', FaderPlace::class),
        ));
    }

    private static function compressor(Fields $c): CompressorSettings
    {
        $values = ['on' => $c->flag('on')];
        foreach (CompressorSettings::RANGES as $field => [$least, $most]) {
            $values[$field] = $c->number($field, $least, $most);
        }

        return new CompressorSettings(...$values);
    }
}
