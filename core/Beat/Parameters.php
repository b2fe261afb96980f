<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Beat\Change\SetTempo;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\WholeKit;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\Send;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Entry;
use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Tempo;

/**
 * Everything of a beat that can be set to a value, by path: "tempo", "kit/a3/levelDb", "part/part-2/glideMs",
 * "pattern/p1/feel/swing", "song/e1/repeats", "mixer/c1/inserts/i2/thresholdDb", "mixer/master/gainDb". What a change of
 * it touches is the path itself.
 */
final class Parameters
{
    /** @return list<Setting> */
    public static function all(Beat $beat): array
    {
        $all = [self::tempo($beat)];
        foreach (self::holders($beat) as $kind => $ids) {
            foreach ($ids as $id) {
                array_push($all, ...self::of($beat, $kind, (string) $id));
            }
        }

        return $all;
    }

    /**
     * Those that can move, of one pad, part or line.
     *
     * @param string $under such as "kit/a3", "part/part-2", "mixer/c1"; "tempo" for itself
     *
     * @return list<Setting>
     */
    public static function moving(Beat $beat, string $under): array
    {
        [$kind, $id] = [...explode('/', $under), ''];

        return array_values(array_filter('tempo' === $under ? [self::tempo($beat)] : self::of($beat, $kind, $id), static fn (Setting $s): bool => $s->parameter->moves));
    }

    /** @return array<string, string> names of all of which something can move, by what moving() takes: the beat's lines, parts and pads */
    public static function movers(Beat $beat): array
    {
        $movers = ['tempo' => $beat->name];
        $holders = self::holders($beat);
        foreach (['mixer', 'part', 'kit'] as $kind) {
            foreach ($holders[$kind] as $id) {
                if (null !== $holder = self::holder($beat, $kind, (string) $id)) {
                    $movers[$kind.'/'.$id] = self::owner($beat, $kind, (string) $id, '', $holder);
                }
            }
        }

        return $movers;
    }

    /** @return array<string, list<int|string>> ids of all that has parameters, by kind */
    private static function holders(Beat $beat): array
    {
        return ['kit' => array_keys($beat->kit->pads), 'part' => array_keys($beat->parts), 'pattern' => array_keys($beat->patterns), 'song' => array_keys($beat->song), 'clip' => array_keys($beat->clips), 'mixer' => [...array_keys($beat->mixer->nodes), Master::ID]];
    }

    /** @return list<Setting> all of one pad, part, line or the like */
    private static function of(Beat $beat, string $kind, string $id): array
    {
        $all = [];
        $holder = self::holder($beat, $kind, $id);
        if (null === $holder) {
            return [];
        }
        foreach (['' => $holder, ...$holder->inner()] as $inside => $settable) {
            $inside = (string) $inside;
            [$set, $owner] = [$settable->settings(), self::owner($beat, $kind, $id, $inside, $settable)];
            $under = $kind.'/'.$id.'/'.('' === $inside ? '' : $inside.'/');
            foreach ($settable::parameters() as $field => $parameter) {
                $all[] = new Setting($under.$field, $parameter, $set[$field] ?? null, $owner, self::setter($beat, $kind, $id, $holder, $inside, $settable, $field));
            }
        }

        return $all;
    }

    /** @return \Closure(mixed): Beat */
    private static function setter(Beat $beat, string $kind, string $id, Settable $holder, string $inside, Settable $settable, string $field): \Closure
    {
        return static function (mixed $value) use ($beat, $kind, $id, $holder, $inside, $settable, $field): Beat {
            $changed = $settable->with([$field => $value]);

            return self::withHolder($beat, $kind, $id, '' === $inside ? $changed : $holder->withInner($inside, $changed));
        };
    }

    public static function find(Beat $beat, string $path): ?Setting
    {
        try {
            return self::at($beat, $path);
        } catch (InvalidChange) {
            return null;
        }
    }

    /** @throws InvalidChange when there is none */
    public static function at(Beat $beat, string $path): Setting
    {
        if ('tempo' === $path) {
            return self::tempo($beat);
        }
        [$kind, $id, $rest] = [...explode('/', $path, 3), '', ''];
        $holder = self::holder($beat, $kind, $id);
        $field = basename($rest);
        $inside = $field === $rest ? '' : \dirname($rest);
        $settable = '' === $inside ? $holder : $holder?->inner()[$inside] ?? null;
        $parameter = null === $settable ? null : $settable::parameters()[$field] ?? null;
        if (null === $holder || null === $settable || null === $parameter) {
            throw new InvalidChange(\sprintf('%s is no parameter of this beat.', '' === $path ? 'Nothing' : mb_substr($path, 0, 80)));
        }

        return new Setting($path, $parameter, $settable->settings()[$field] ?? null, self::owner($beat, $kind, $id, $inside, $settable), self::setter($beat, $kind, $id, $holder, $inside, $settable, $field));
    }

    private static function tempo(Beat $beat): Setting
    {
        $parameter = Parameter::number('Tempo', 'BPM', Tempo::SLOWEST, Tempo::MAX, 90.0, 1.0, 2)->moving();

        return new Setting('tempo', $parameter, $beat->tempo->bpm, $beat->name, static fn (mixed $value): Beat => SetTempo::to($beat, Tempo::bpm(\is_float($value) ? $value : 90.0)));
    }

    private static function holder(Beat $beat, string $kind, string $id): ?Settable
    {
        return match ($kind) {
            'kit' => $beat->kit->pad($id),
            'part' => ($beat->parts[$id] ?? null)->keys ?? ($beat->parts[$id] ?? null)?->whole,
            'pattern' => $beat->patterns[$id] ?? null,
            'song' => $beat->song[$id] ?? null,
            'clip' => $beat->clips[$id] ?? null,
            'mixer' => $beat->mixer->line($id),
            default => null,
        };
    }

    private static function withHolder(Beat $beat, string $kind, string $id, Settable $holder): Beat
    {
        return match (true) {
            $holder instanceof Pad => $beat->withKit($beat->kit->withPad($holder)),
            $holder instanceof Keys => $beat->withPart($beat->part($id)->with(['keys' => $holder])),
            $holder instanceof WholeKit => $beat->withPart($beat->part($id)->with(['whole' => $holder])),
            $holder instanceof Pattern => $beat->withPattern($holder),
            $holder instanceof Clip => $beat->withClips($holder),
            $holder instanceof Entry => $beat->withEntry($holder),
            $holder instanceof Node, $holder instanceof Master => $beat->withMixer($beat->mixer->withLine($holder)),
            default => throw new \LogicException('Nothing holds '.$kind.'/'.$id.'.'),
        };
    }

    private static function owner(Beat $beat, string $kind, string $id, string $inside, Settable $settable): string
    {
        $name = match ($kind) {
            'kit' => $beat->pad($id)->name,
            'part' => $beat->part($id)->name,
            'pattern' => $beat->pattern($id)->name,
            'song' => $beat->section($beat->entry($id)->section)->name,
            'clip' => $beat->clip($id)->name,
            default => Master::ID === $id ? 'Master' : $beat->channel($id)->name,
        };

        return match (true) {
            $settable instanceof Send => $name.' to '.($beat->mixer->nodes[substr($inside, \strlen('sends/'))] ?? null)?->name,
            $settable instanceof EqBand => $name.', band '.basename($inside),
            $settable instanceof Layer && \count($beat->kit->pad($id)->layers ?? []) > 1 => $name.', '.$settable->name,
            default => $name,
        };
    }
}
