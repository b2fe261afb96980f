<?php

namespace Pestle\App\Page;

use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Pad;

/** A row of the step lanes: a pad, or a folded group of them in one dense lane. */
final readonly class LaneRow
{
    /**
     * @param non-empty-list<Pad> $pads  one, or all of a folded group in their order
     * @param string              $group its group; empty for none
     * @param bool                $first whether it is the first row of its group
     */
    private function __construct(public array $pads, public string $name, public string $group, public bool $first, public bool $folded)
    {
    }

    /**
     * @param list<Pad>    $pads
     * @param string       $by   "bank", "role" or "recording"; else nothing is folded
     * @param list<string> $open groups that are not folded
     *
     * @return list<self>
     */
    public static function of(array $pads, Kit $kit, string $by, array $open): array
    {
        $groups = [];
        foreach ($pads as $pad) {
            $bank = $kit->bank((string) preg_replace('/\d+$/', '', $pad->id));
            [$key, $name] = match ($by) {
                'bank' => [$bank->id ?? '', $bank->name ?? ''],
                'role' => [$pad->role->value, $pad->role->label()],
                'recording' => [substr($pad->main()->sample, 0, 8), $pad->name],
                default => [$pad->id, $pad->name],
            };
            $groups[$key]['name'] ??= $name;
            $groups[$key]['pads'][] = $pad;
        }
        $rows = [];
        foreach ($groups as $key => ['name' => $name, 'pads' => $members]) {
            if ('recording' === $by) {
                // As they lie on the wave.
                usort($members, static fn (Pad $a, Pad $b): int => $a->main()->start <=> $b->main()->start);
            }
            if (\count($members) > 1 && !\in_array((string) $key, $open, true)) {
                $rows[] = new self($members, \sprintf('%s, %d', $name, \count($members)), (string) $key, true, true);
                continue;
            }
            foreach ($members as $i => $pad) {
                $rows[] = new self([$pad], $pad->name, \count($members) > 1 ? (string) $key : '', 0 === $i, false);
            }
        }

        return $rows;
    }

    public function pad(): Pad
    {
        return $this->pads[0];
    }

    /** @return list<string> */
    public function ids(): array
    {
        return array_map(static fn (Pad $pad): string => $pad->id, $this->pads);
    }
}
