<?php

namespace Pestle\App\Beside;

use Pestle\App\Storage\DataFolder;

/** The devices that stand beside this Pestle as programs: a socket each in one folder. */
final readonly class Beside
{
    private const MOST = 20;

    public function __construct(private DataFolder $folder)
    {
    }

    /** @return list<string> names of those that are there; what was left behind by one that was killed goes */
    public function present(): array
    {
        $names = [];
        foreach (glob($this->folder->beside().'/*.sock') ?: [] as $path) {
            $there = @stream_socket_client('unix://'.$path, $code, $message, 0.2);
            if (false === $there) {
                @unlink($path);
                continue;
            }
            fclose($there);
            $names[] = basename($path, '.sock');
        }

        return $names;
    }

    /**
     * Where another of a kind can be reached.
     *
     * @throws \RuntimeException
     */
    public function freePlace(string $kind): string
    {
        $taken = $this->present();
        for ($i = 1; $i <= self::MOST; ++$i) {
            $name = 1 === $i ? $kind : "$kind-$i";
            if (!\in_array($name, $taken, true)) {
                return \sprintf('%s/%s.sock', $this->folder->beside(), $name);
            }
        }
        throw new \RuntimeException(\sprintf('%d of these stand beside already: quit one first.', self::MOST));
    }
}
