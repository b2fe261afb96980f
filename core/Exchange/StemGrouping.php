<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Beat\Beat;

/** How a delivery is split into stems. */
enum StemGrouping: string
{
    case None = 'none';
    case Pad = 'pad';
    case Channel = 'channel';
    case Group = 'group';
    case Part = 'part';

    /** @return array<string, string>|null name of the stem of every pad and of every part on keys, null for no stems; equal names are told apart by a number */
    public function stems(Beat $beat): ?array
    {
        if (self::None === $this) {
            return null;
        }
        $names = $taken = [];
        foreach ($this->sources($beat) as $id => [$key, $name]) {
            $taken[$key] ??= self::free($name, $taken);
            $names[$id] = $taken[$key];
        }

        return $names;
    }

    /** @return array<string, array{string, string}> by pad or part: what it is in a stem with, and the name of that */
    private function sources(Beat $beat): array
    {
        $sources = [];
        foreach ($beat->kit->pads as $id => $pad) {
            $sources[$id] = match ($this) {
                self::Pad => ['pad '.$id, $pad->name],
                self::Part => $this->part($beat, $beat->kit->partOf($pad->id) ?? '', $pad->name),
                default => $this->channel($beat, $pad->channel, $pad->name),
            };
        }
        foreach ($beat->parts as $id => $part) {
            if (null !== $part->keys) {
                $sources[$id] = self::Channel === $this || self::Group === $this ? $this->channel($beat, $part->keys->channel, $part->name) : $this->part($beat, $id, $part->name);
            }
        }

        return $sources;
    }

    /** @return array{string, string} */
    private function part(Beat $beat, string $id, string $else): array
    {
        return ['part '.$id, ($beat->parts[$id] ?? null)->name ?? $else];
    }

    /** @return array{string, string} the channel, or the group it is in */
    private function channel(Beat $beat, string $id, string $else): array
    {
        $channel = $beat->mixer->channels[$id] ?? null;
        $group = self::Group === $this ? $beat->mixer->groups[$channel->group ?? ''] ?? null : null;

        return null === $group ? ['channel '.$id, $channel->name ?? $else] : ['group '.$group->id, $group->name];
    }

    /** @param array<string, string> $taken */
    private static function free(string $name, array $taken): string
    {
        $candidate = $name;
        for ($n = 2; \in_array($candidate, $taken, true); ++$n) {
            $candidate = $name.' '.$n;
        }

        return $candidate;
    }
}
