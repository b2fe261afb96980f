<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\NodeKind;

/** How a delivery is split into stems. */
enum StemGrouping: string
{
    case None = 'none';
    case Pad = 'pad';
    case Channel = 'channel';
    case Group = 'group';
    case Part = 'part';
    /** Channels together as the maker says. */
    case Own = 'own';

    /**
     * @param array<string, string> $own     name of the stem of each channel and return, where the maker says so
     * @param bool                  $returns whether returns are stems of their own; else they go with what is sent there
     *
     * @return array<string, string>|null name of the stem of every pad, part on keys, track and of returns that have one, null for no stems; equal names are told apart by a number
     */
    public function stems(Beat $beat, array $own = [], bool $returns = false): ?array
    {
        if (self::None === $this) {
            return null;
        }
        $names = $taken = [];
        foreach ($this->sources($beat, $own) as $id => [$key, $name]) {
            $taken[$key] ??= self::free($name, $taken);
            $names[$id] = $taken[$key];
        }
        foreach ($returns ? $beat->mixer->of(NodeKind::Return) : [] as $id => $return) {
            $names[$id] = isset($own[$id]) && self::Own === $this ? $own[$id] : $taken['return '.$id] = self::free($return->name, $taken);
        }

        return $names;
    }

    /**
     * @param array<string, string> $own
     *
     * @return array<string, array{string, string}> by pad, part or track: what it is in a stem with, and the name of that
     */
    private function sources(Beat $beat, array $own): array
    {
        $sources = [];
        foreach ($beat->kit->pads as $id => $pad) {
            $sources[$id] = match ($this) {
                self::Pad => ['pad '.$id, $pad->name],
                self::Part => $this->part($beat, $beat->kit->partOf($pad->id) ?? '', $pad->name),
                self::Own => self::own($beat, $pad->channel, $pad->name, $own),
                default => $this->channel($beat, $pad->channel, $pad->name),
            };
        }
        foreach ($beat->parts as $id => $part) {
            if (null !== $part->keys) {
                $sources[$id] = match ($this) {
                    self::Channel, self::Group => $this->channel($beat, $part->keys->channel, $part->name),
                    self::Own => self::own($beat, $part->keys->channel, $part->name, $own),
                    default => $this->part($beat, $id, $part->name),
                };
            }
        }

        foreach ($beat->tracks as $id => $track) {
            $sources[$id] = match ($this) {
                self::Channel, self::Group => $this->channel($beat, $track->channel, $track->name),
                self::Own => self::own($beat, $track->channel, $track->name, $own),
                default => ['track '.$id, $track->name],
            };
        }

        return $sources;
    }

    /** @return array{string, string} */
    private function part(Beat $beat, string $id, string $else): array
    {
        return ['part '.$id, ($beat->parts[$id] ?? null)->name ?? $else];
    }

    /**
     * @param array<string, string> $own
     *
     * @return array{string, string} what the maker called it; channels of one name are one stem
     */
    private static function own(Beat $beat, string $channel, string $else, array $own): array
    {
        $name = $own[$channel] ?? $beat->mixer->nodes[$channel]->name ?? $else;

        return ['own '.$name, $name];
    }

    /** @return array{string, string} the channel, or the group it is in */
    private function channel(Beat $beat, string $id, string $else): array
    {
        $channel = $beat->mixer->nodes[$id] ?? null;
        $group = self::Group === $this ? $beat->mixer->nodes[$channel->output ?? ''] ?? null : null;

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
