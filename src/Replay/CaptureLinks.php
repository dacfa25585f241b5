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

    public function map(Url $url): string
    {
        $fragment = null === $url->fragment ? '' : '#'.$url->fragment;

        return $this->scheme.'://'.$this->hosts->hostOf($url, $this->label, $this->mode, $this->only).$this->port.$url->target().$fragment;
    }
}
