<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** The folder that holds everything which is not code: what lies where in it is known here alone. */
final readonly class DataFolder
{
    public function __construct(#[Autowire('%env(YPOMNA_DATA)%')] public string $path)
    {
    }

    /** As the settings have it, where there is no container yet. */
    public static function ofSettings(): self
    {
        return new self(Settings::dataFolder());
    }

    /** The evidence: WARC files, and the originals of files in other formats. */
    public function store(): string
    {
        return $this->path.'/store';
    }

    /** Files that people attached to items, by their checksums. */
    public function attachments(): string
    {
        return $this->path.'/attachments';
    }

    /** @param string $sha256 in hex */
    public function attachment(string $sha256): string
    {
        return $this->attachments().'/'.substr($sha256, 0, 2).'/'.$sha256;
    }

    /** Messages of whom nobody here is known to be the sender. */
    public function waitingMail(): string
    {
        return $this->path.'/waiting-mail';
    }

    /** Where files are laid that are to be taken in: a folder for each person. */
    public function laid(): string
    {
        return $this->path.'/laid';
    }

    public function ledger(): string
    {
        return $this->path.'/ledger';
    }

    /** Keys that this installation made for itself. */
    public function keys(): string
    {
        return $this->path.'/keys';
    }

    /** For work that leaves nothing behind: a name of its own for each piece of it, which whoever asks makes and removes. */
    public function work(string $name): string
    {
        return $this->path.'/work/'.$name;
    }

    /** The same, with a name that nobody else has. */
    public function newWork(string $prefix): string
    {
        return $this->work($prefix.'-'.bin2hex(random_bytes(6)));
    }

    /** Files that are being handed in. */
    public function arrivals(): string
    {
        return $this->path.'/arrivals';
    }

    /** What was put together for giving out. */
    public function parcels(): string
    {
        return $this->path.'/given-out';
    }

    /** Documents that were handed in for the sake of their references. */
    public function documents(): string
    {
        return $this->path.'/documents';
    }

    /** What watched pages looked like when they were checked last. */
    public function watched(): string
    {
        return $this->path.'/watched';
    }

    /** Small pictures; they can be thrown away. */
    public function thumbnails(): string
    {
        return $this->path.'/cache/thumbs';
    }

    /** By which the processes of this machine share hosts out among themselves. */
    public function hosts(): string
    {
        return $this->path.'/run/hosts';
    }

    /** What the framework makes of itself; a start makes it anew. */
    public function cache(): string
    {
        return $this->path.'/cache';
    }

    public function log(): string
    {
        return $this->path.'/log';
    }

    public function settings(): string
    {
        return $this->path.'/ypomna.env';
    }

    /** The installation's own rules for addresses; the file need not be there. */
    public function addressRules(): string
    {
        return $this->path.'/'.AddressKeys::OWN_RULES;
    }
}
