<?php

namespace Pestle\App\Storage;

/** The places in the data folder. Every file in it is written beside its place and renamed. */
final readonly class DataFolder
{
    public function __construct(private string $data)
    {
    }

    public function samples(): string
    {
        return $this->made('samples');
    }

    public function cache(): string
    {
        return $this->made('cache');
    }

    /** Samples with their edits, worked out. */
    public function edited(): string
    {
        return $this->made('edited');
    }

    /** Recordings taken apart, while they are, and what is known of each. */
    public function apart(): string
    {
        return $this->made('apart');
    }

    /** Samples of other machines, for their errands. */
    public function fetched(): string
    {
        return $this->made('fetched');
    }

    /** What is known of other machines. */
    public function machines(): string
    {
        return $this->data.'/machines.json';
    }

    /** Where a job makes what is not yet taken. */
    public function scratch(string $key): string
    {
        return $this->made('scratch').'/'.hash('sha256', $key);
    }

    /** What is performed of each beat. */
    public function live(): string
    {
        return $this->made('live');
    }

    /** Sockets of devices that are programs. */
    public function beside(): string
    {
        return $this->made('beside');
    }

    public function incoming(): string
    {
        return $this->made('incoming');
    }

    public function deliveries(): string
    {
        return $this->made('deliveries');
    }

    public function originals(): string
    {
        return $this->made('originals');
    }

    /** Settings and sockets of the server. */
    public function web(): string
    {
        return $this->made('web');
    }

    public function database(): string
    {
        return $this->data.'/pestle.sqlite';
    }

    /** Holds the address of the Pestle that runs on this folder. */
    public function address(): string
    {
        return $this->data.'/address';
    }

    public function engineSocket(): string
    {
        return $this->socket('engine');
    }

    public function webSocket(): string
    {
        return $this->socket('web');
    }

    /** A secret of this data folder, made at first use. */
    public function secret(): string
    {
        $path = $this->data.'/secret';
        if (!is_file($path)) {
            $part = $path.'.'.bin2hex(random_bytes(4));
            file_put_contents($part, bin2hex(random_bytes(32)));
            chmod($part, 0o600);
            // link() fails when another process was first; its secret is then the one.
            @link($part, $path);
            unlink($part);
        }

        return (string) file_get_contents($path);
    }

    /** The name of a Unix socket has at most 107 bytes; a data folder may be deeper. */
    private function socket(string $name): string
    {
        $inside = $this->data.'/'.$name.'.sock';

        return \strlen($inside) < 100 ? $inside : sys_get_temp_dir().'/pestle-'.substr(hash('sha256', $this->data), 0, 16).'-'.$name.'.sock';
    }

    private function made(string $name): string
    {
        $folder = $this->data.'/'.$name;
        if (!is_dir($folder)) {
            @mkdir($folder, 0o700, true);
        }

        return $folder;
    }
}
