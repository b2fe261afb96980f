<?php

namespace Pestle\Core\Exchange\Sfz;

use Pestle\Core\Kit\Envelope;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Sweep;
use Pestle\Core\Kit\Treatment;

/** Envelopes, filter and LFOs, from opcodes and to them. Times are seconds there and milliseconds here, sustain is percent there. */
final class Sounds
{
    private const FILTERS = ['lpf_1p' => [FilterShape::Low, false], 'lpf_2p' => [FilterShape::Low, false], 'lpf_4p' => [FilterShape::Low, true], 'lpf_6p' => [FilterShape::Low, true], 'lpf_2p_sv' => [FilterShape::Low, false], 'hpf_1p' => [FilterShape::High, false], 'hpf_2p' => [FilterShape::High, false], 'hpf_4p' => [FilterShape::High, true], 'hpf_6p' => [FilterShape::High, true], 'hpf_2p_sv' => [FilterShape::High, false], 'bpf_1p' => [FilterShape::Band, false], 'bpf_2p' => [FilterShape::Band, false], 'bpf_2p_sv' => [FilterShape::Band, false], 'brf_1p' => [FilterShape::Notch, false], 'brf_2p' => [FilterShape::Notch, false], 'brf_2p_sv' => [FilterShape::Notch, false]];
    /** Decibels of resonance that full resonance here stands for: five octaves of Q. */
    private const MOST_RESONANCE_DB = 30.1;

    /** The power of the level that a velocity tracking in percent stands for: at 100 the level goes with the square. */
    public static function strength(Region $region): float
    {
        return round(max(0.0, min(4.0, $region->number('amp_veltrack', 100.0) / 50.0)), 2);
    }

    /** @param \Closure(string): void $tell takes what cannot be carried */
    public static function treatment(Region $r, \Closure $tell): Treatment
    {
        $ms = static fn (string $name, float $seconds = 0.0, float $most = Envelope::MOST_MS): float => round(max(0.0, min($most, 1000.0 * $r->number($name, $seconds))), 3);
        $amp = new Envelope($ms('ampeg_attack'), $ms('ampeg_hold'), $ms('ampeg_decay'), max(0.0, min(1.0, $r->number('ampeg_sustain', 100.0) / 100.0)), $ms('ampeg_release', 0.001));
        if ($r->number('ampeg_delay') > 0.0) {
            $tell('ampeg_delay is left out');
        }
        $depth = max(-Sweep::MOST_CENTS, min(Sweep::MOST_CENTS, $r->number('pitcheg_depth')));
        $pitch = 0.0 === $depth ? new Sweep() : new Sweep($depth, $ms('pitcheg_attack', 0.0, 5000.0), max(1.0, $ms('pitcheg_decay', 0.0, 5000.0)), 0.0);
        foreach (['pitcheg_sustain', 'pitcheg_release', 'pitcheg_hold', 'pitcheg_delay', 'fileg_release', 'fileg_hold', 'fileg_delay'] as $name) {
            if (0.0 !== $r->number($name)) {
                $tell($name.' is left out');
            }
        }
        $lfos = array_values(array_filter([
            self::lfo($r, 'amplfo', LfoTarget::Level, static fn (float $db): float => 100.0 * (10.0 ** (abs($db) / 20.0) - 1.0)),
            self::lfo($r, 'pitchlfo', LfoTarget::Pitch, abs(...)),
            self::lfo($r, 'fillfo', LfoTarget::Cutoff, abs(...)),
        ]));
        if (\count($lfos) > 2) {
            $tell('of three LFOs two are taken');
        }

        return new Treatment($amp, $pitch, self::filter($r, $ms, $tell), $lfos[0] ?? new Lfo(), $lfos[1] ?? new Lfo());
    }

    /**
     * @param \Closure(string, float=, float=): float $ms
     * @param \Closure(string): void                  $tell
     */
    private static function filter(Region $r, \Closure $ms, \Closure $tell): Filter
    {
        $type = strtolower($r->text('fil_type', 'lpf_2p'));
        $cutoff = $r->number('cutoff');
        $set = [
            'resonance' => round(max(0.0, min(1.0, $r->number('resonance') / self::MOST_RESONANCE_DB)), 3),
            'envelopeCents' => max(-Filter::MOST_CENTS, min(Filter::MOST_CENTS, $r->number('fileg_depth'))),
            'attackMs' => $ms('fileg_attack'),
            'decayMs' => $ms('fileg_decay'),
            'sustain' => max(0.0, min(1.0, $r->number('fileg_sustain', 100.0) / 100.0)),
            'keyTracking' => max(0.0, min(1.0, $r->number('fil_keytrack') / 100.0)),
            'strengthCents' => max(-Filter::MOST_CENTS, min(Filter::MOST_CENTS, $r->number('fil_veltrack'))),
        ];
        if ($cutoff <= 0.0) {
            return new Filter();
        }
        if (!isset(self::FILTERS[$type])) {
            $tell(\sprintf('the filter %s is left out', $type));

            return new Filter();
        }
        [$shape, $steep] = self::FILTERS[$type];

        return (new Filter($shape, $steep, max(Filter::LOWEST_HZ, min(Filter::HIGHEST_HZ, $cutoff))))->with($set);
    }

    /** @param \Closure(float): float $depth */
    private static function lfo(Region $r, string $name, LfoTarget $target, \Closure $depth): ?Lfo
    {
        [$hz, $far, $delay] = [$r->number($name.'_freq'), $r->number($name.'_depth'), $r->number($name.'_delay')];
        $r->number($name.'_fade');

        return $hz <= 0.0 || 0.0 === $far ? null : new Lfo($target, hz: max(0.02, min(40.0, $hz)), depth: max(0.0, min($target->most(), $depth($far))), delayMs: max(0.0, min(10_000.0, 1000.0 * $delay)));
    }

    /** @return array<string, string> opcodes of a treatment, only where it does something */
    public static function opcodes(Treatment $t, float $strength): array
    {
        $number = static fn (float $value): string => rtrim(rtrim(number_format($value, 5, '.', ''), '0'), '.');
        $out = ['amp_veltrack' => $number(50.0 * $strength)];
        $seconds = static fn (float $ms): string => $number($ms / 1000.0);
        $amp = $t->amp;
        if (!$amp->isFlat()) {
            $out += ['ampeg_attack' => $seconds($amp->attackMs), 'ampeg_hold' => $seconds($amp->holdMs), 'ampeg_decay' => $seconds($amp->decayMs), 'ampeg_sustain' => $number(100.0 * $amp->sustain)];
        }
        $out['ampeg_release'] = $seconds(max(1.0, $amp->releaseMs));
        if (0.0 !== $t->pitch->cents) {
            $out += ['pitcheg_depth' => $number($t->pitch->cents), 'pitcheg_attack' => $seconds($t->pitch->attackMs), 'pitcheg_decay' => $seconds($t->pitch->decayMs), 'pitcheg_sustain' => '0'];
        }
        $f = $t->filter;
        if (FilterShape::Off !== $f->shape) {
            $type = array_search([$f->shape, $f->steep], array_diff_key(self::FILTERS, ['lpf_1p' => 1, 'hpf_1p' => 1, 'bpf_1p' => 1, 'brf_1p' => 1]), true) ?: array_search([$f->shape, false], array_diff_key(self::FILTERS, ['lpf_1p' => 1, 'hpf_1p' => 1, 'bpf_1p' => 1, 'brf_1p' => 1]), true);
            $out += ['fil_type' => (string) $type, 'cutoff' => $number($f->cutoffHz), 'resonance' => $number($f->resonance * self::MOST_RESONANCE_DB)];
            if (0.0 !== $f->envelopeCents) {
                $out += ['fileg_depth' => $number($f->envelopeCents), 'fileg_attack' => $seconds($f->attackMs), 'fileg_decay' => $seconds($f->decayMs), 'fileg_sustain' => $number(100.0 * $f->sustain)];
            }
            $out += array_filter(['fil_keytrack' => 0.0 === $f->keyTracking ? '' : $number(100.0 * $f->keyTracking), 'fil_veltrack' => 0.0 === $f->strengthCents ? '' : $number($f->strengthCents)]);
        }
        foreach ([$t->lfo1, $t->lfo2] as $lfo) {
            $name = match ($lfo->target) {
                LfoTarget::Level => 'amplfo',
                LfoTarget::Pitch => 'pitchlfo',
                LfoTarget::Cutoff => 'fillfo',
                default => '',
            };
            if ($lfo->acts() && '' !== $name && 0 === $lfo->ticks) {
                $depth = LfoTarget::Level === $lfo->target ? 20.0 * log10(1.0 + $lfo->depth / 100.0) : $lfo->depth;
                $out += [$name.'_freq' => $number($lfo->hz), $name.'_depth' => $number($depth), $name.'_delay' => $seconds($lfo->delayMs)];
            }
        }

        return $out;
    }
}
