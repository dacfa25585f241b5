<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Replay\LinkMap;

/** Addresses as of one capture. */
final readonly class CaptureLinks implements LinkMap
{
    /**
     * @param string $label of the right to read it
     * @param string $port with its colon, or ''
     */
    public function __construct(
        private PageHosts $hosts,
        private string $label,
        private ReplayMode $mode,
        private string $scheme,
        private string $port,
        private bool $only = false,
    ) {
    }

    /** Where an address stands that is to be asked for now. */
    public function place(Url $url): string
    {
        $place = $this->map($url);
        $this->hosts->keep();

        return $place;
    }

    /** Within a document, with which its hosts are kept ({@see PageAnswers::to}). */
    public function map(Url $url): string
    {
        $host = $this->hosts->hostOf($url, $this->label, $this->mode, $this->only);
        $fragment = null === $url->fragment ? '' : '#'.$url->fragment;
        if (null === $host) {
            $name = substr($url->origin(), \strlen($url->scheme) + 3);

            return $this->scheme.'://'.$this->hosts->throughHost($url, $this->label, $this->mode, $this->only).$this->port
                .'/'.$url->scheme.'/'.$name.$url->target().$fragment;
        }

        return $this->scheme.'://'.$host.$this->port.$url->target().$fragment;
    }
}
