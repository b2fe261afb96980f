<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Song\Movements;

/** A beat as it has to sound to be caught as a new sample: one channel of it or all, with its effects or without. */
final class Resampling
{
    /**
     * @param string|null $channel null for all
     * @param bool        $wet     with inserts, sends, levels, places and curves; else as the pads give it
     */
    public static function of(Beat $beat, ?string $channel, bool $wet): Beat
    {
        $mixer = $beat->mixer;
        if (null !== $channel) {
            $beat->channel($channel);
            foreach ($mixer->nodes as $id => $one) {
                $mixer = $mixer->with($one->with(['solo' => $id === $channel, 'mute' => NodeKind::Channel === $one->kind && $id !== $channel && $one->mute]));
            }
        }
        if (!$wet) {
            foreach ($mixer->nodes as $one) {
                $mixer = $mixer->with($one->with(['gainDb' => 0.0, 'pan' => 0.0, 'inserts' => [], 'sends' => []]));
            }
            // The ceiling stays: the sum of dry channels may go beyond full scale.
            $mixer = $mixer->withMaster(new Master(0.0, $mixer->master->ceilingDb));
            $beat = $beat->with(['movements' => new Movements()]);
        }

        return $beat->withMixer($mixer);
    }

    /** @param string|null $what a section or a pattern, null for the song */
    public static function name(Beat $beat, ?string $what, ?string $channel): string
    {
        $what = null === $what ? $beat->name : ($beat->sections[$what] ?? $beat->pattern($what))->name;

        return null === $channel ? $what : $what.', '.$beat->channel($channel)->name;
    }
}
