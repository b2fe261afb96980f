<?php

namespace Pestle\Tests\App;

use Pestle\App\Page\LaneRow;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use PHPUnit\Framework\TestCase;

final class LaneRowTest extends TestCase
{
    public function testLanesFoldByBankRoleOrRecording(): void
    {
        $kit = Beat::empty('Lanes')->kit->withBank(new Bank('b', 'More', 'part-1'));
        foreach ([['a0', 'Low', Role::Kick, 'k', 0], ['a1', 'Late', Role::Tonal, 's', 900], ['a2', 'Hat', Role::Hat, 'h', 0], ['b0', 'Early', Role::Tonal, 's', 100], ['b1', 'Deep', Role::Kick, 'd', 0]] as [$id, $name, $role, $sample, $start]) {
            $kit = $kit->withPad(Pad::of($id, $role, 'c1', new Layer($name, str_repeat($sample, 64), $start, $start + 50)));
        }
        $rows = static fn (string $by, string ...$open): array => array_map(static fn (LaneRow $r): string => $r->name.': '.implode(' ', $r->ids()).($r->first && !$r->folded && '' !== $r->group ? ' first' : ''), LaneRow::of(array_values($kit->pads), $kit, $by, array_values($open)));
        self::assertSame(['Low: a0', 'Late: a1', 'Hat: a2', 'Early: b0', 'Deep: b1'], array_map(static fn (string $row): string => str_replace(' first', '', $row), $rows('')));
        self::assertSame(['Bank 1, 3: a0 a1 a2', 'More, 2: b0 b1'], $rows('bank'));
        self::assertSame(['Kick, 2: a0 b1', 'Tonal, 2: a1 b0', 'Hat: a2'], $rows('role'));
        // Slices of a recording as they lie on its wave; opened, one after another.
        self::assertSame(['Low: a0', 'Late, 2: b0 a1', 'Hat: a2', 'Deep: b1'], $rows('recording'));
        self::assertSame(['Low: a0', 'Early: b0 first', 'Late: a1', 'Hat: a2', 'Deep: b1'], $rows('recording', 'ssssssss'));
    }
}
