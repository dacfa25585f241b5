<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Symfony\Component\HttpFoundation\ResponseHeaderBag;

/**
 * The headers that keep an archived page in the archive. They go with every answer of its hosts, errors too: every
 * destination but the archive's pages is closed (Content Security Policy Level 3), the page is sandboxed without forms,
 * pop-ups, downloads or navigation of the window, and what a policy for resources does not cover (WebRTC, preconnect,
 * DNS) is closed by the connection allow-list.
 */
final readonly class Wall
{
    /**
     * @param string $pages  `http://*.localhost:8020`: where archived pages stand
     * @param string $window origins that may frame a page: the application's own
     */
    public static function raise(ResponseHeaderBag $headers, ReplayMode $mode, string $pages, string $window, string $nonce): void
    {
        $scripts = ReplayMode::Alive === $mode ? $pages." data: blob: 'unsafe-inline' 'unsafe-eval'" : "'nonce-".$nonce."'";
        $headers->set('Content-Security-Policy', implode('; ', [
            'sandbox allow-scripts',
            "default-src {$pages} data: blob: 'unsafe-inline'",
            'script-src '.$scripts,
            'worker-src '.(ReplayMode::Alive === $mode ? $pages.' data: blob:' : "'none'"),
            'connect-src '.(ReplayMode::Alive === $mode ? $pages.' data: blob:' : "'none'"),
            "base-uri {$pages}",
            "form-action 'none'",
            "object-src {$pages}",
            "frame-ancestors {$window} {$pages}",
        ]));
        // Redirects are ours, and lead to the archive's pages only.
        $headers->set('Connection-Allowlist', '(response-origin "'.$pages.'/*");redirects=allow');
        $headers->set('Permissions-Policy', 'accelerometer=(), autoplay=(), camera=(), display-capture=(), encrypted-media=(), fullscreen=(self), geolocation=(), gyroscope=(), hid=(), idle-detection=(), local-fonts=(), magnetometer=(), microphone=(), midi=(), payment=(), publickey-credentials-get=(), screen-wake-lock=(), serial=(), usb=(), xr-spatial-tracking=()');
        $headers->set('Referrer-Policy', 'no-referrer');
        $headers->set('X-DNS-Prefetch-Control', 'off');
        $headers->set('Access-Control-Allow-Origin', '*');
        // Lets our script in the page see which parts are missing or come from another moment ({@see PageController}).
        $headers->set('Timing-Allow-Origin', '*');
        $headers->set('Cross-Origin-Resource-Policy', 'cross-origin');
        $headers->set('Cache-Control', 'private, max-age=60');
    }
}
