<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Pad;

/** How a delivery is split into stems. */
enum StemGrouping: string
{
    case None = 'none';
    case Pad = 'pad';
    case Channel = 'channel';

    /** @return array<string, string>|null name of the stem of every pad, null for no stems; equal names are told apart by a number */
    public function stems(Beat $beat): ?array
    {
        if (self::None === $this) {
            return null;
        }
        $names = [];
        $taken = [];
        foreach ($beat->kit->pads as $pad) {
            $source = self::Pad === $this ? $pad->id : $pad->channel;
            if (!isset($taken[$source])) {
                $taken[$source] = self::free($this->name($beat, $pad), $taken);
            }
            $names[$pad->id] = $taken[$source];
        }

        return $names;
    }

    private function name(Beat $beat, Pad $pad): string
    {
        return self::Pad === $this ? $pad->name : ($beat->mixer->channels[$pad->channel]->name ?? $pad->name);
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
